// Build: start by key, and which objects stand behind a row of the carry plan.
import { keys } from "./desk.js";
import { el } from "./words.js";
import "./table.js";

const which = document.getElementById("which");
for (const row of document.querySelectorAll("#carry tbody tr")) {
  const open = async () => {
    const objects = await (await fetch(`?handler=Which&kind=${encodeURIComponent(row.dataset.kind)}`)).json();
    which.hidden = false;
    which.replaceChildren(
      el("b", {}, row.dataset.kind),
      el(
        "table",
        {},
        el(
          "tbody",
          {},
          ...objects.map(o =>
            el("tr", {}, el("td", {}, o.name), el("td", { class: "soft" }, [...new Set(o.fates.filter(Boolean))].join(", "))),
          ),
        ),
      ),
    );
  };
  row.addEventListener("click", open);
  row.addEventListener("keydown", e => {
    if (e.key === "Enter") open();
  });
}
keys({ b: () => document.getElementById("build")?.click() });
document.addEventListener("htmx:afterSettle", () => {
  // A finished build changes the stages on the left.
  const state = document.getElementById("state");
  if (
    before !== state.dataset.state &&
    ["Done", "Failed", "Stopped"].includes(state.dataset.state) &&
    ["Waiting", "Working"].includes(before)
  )
    location.reload();
  before = state.dataset.state;
});
let before = document.getElementById("state")?.dataset.state;
