// Tables that sort by a click on a head.
import { el } from "./words.js";

for (const table of document.querySelectorAll("table[data-table]")) {
  table.querySelectorAll("thead th").forEach((head, column) => {
    const button = el("button", { class: "plain", type: "button" }, head.textContent);
    button.addEventListener("click", () => sort(table, column, head));
    head.replaceChildren(button);
  });
}
const text = cell => cell?.innerText.trim() ?? "";
const number = value =>
  Number(
    value
      .replace(/[\s\u202f]/g, "")
      .replace("−", "-")
      .replace(/[^\d.-].*$/, ""),
  );
function sort(table, column, head) {
  const down = head.getAttribute("aria-sort") === "ascending",
    body = table.tBodies[0];
  for (const other of table.querySelectorAll("th")) other.removeAttribute("aria-sort");
  head.setAttribute("aria-sort", down ? "descending" : "ascending");
  const numeric = head.classList.contains("num");
  const rows = [...body.rows].sort((a, b) => {
    const [x, y] = [text(a.cells[column]), text(b.cells[column])];
    return numeric ? (number(x) || 0) - (number(y) || 0) : x.localeCompare(y, undefined, { numeric: true });
  });
  body.append(...(down ? rows.reverse() : rows));
}
