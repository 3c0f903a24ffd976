// Marks in the table of sources: one by one, all between two with shift, all that are shown; a filter by name.
const table = document.getElementById("items"),
  bar = document.getElementById("marked");
if (table && bar) {
  const rows = () => [...table.tBodies[0].rows],
    box = row => row.querySelector("input[type=checkbox]"),
    shown = () => rows().filter(r => !r.hidden);
  let last = null;
  const count = () => {
    const marked = rows().filter(r => box(r).checked).length;
    bar.hidden = marked === 0;
    document.getElementById("marked-count").textContent = marked;
    for (const row of rows()) row.classList.toggle("marked-row", box(row).checked);
  };
  table.addEventListener("click", e => {
    const row = e.target.matches("input[type=checkbox]") ? e.target.closest("tr") : null;
    if (!row) return;
    if (e.shiftKey && last && !last.hidden) {
      const all = shown(),
        [a, b] = [all.indexOf(last), all.indexOf(row)].sort((x, y) => x - y);
      for (const between of all.slice(a, b + 1)) box(between).checked = e.target.checked;
    }
    last = row;
    count();
  });
  const filter = document.getElementById("filter");
  const narrow = () => {
    const words = filter.value.trim().toLowerCase();
    for (const row of rows()) {
      // What is not shown is not changed either.
      row.hidden = !box(row).getAttribute("aria-label").toLowerCase().includes(words);
      if (row.hidden) box(row).checked = false;
    }
    document.getElementById("shown").textContent = words ? `${shown().length} of ${rows().length}` : "";
    count();
  };
  filter.addEventListener("input", narrow);
  document.getElementById("mark-shown").addEventListener("click", () => {
    const all = shown().every(r => box(r).checked);
    for (const row of shown()) box(row).checked = !all;
    count();
  });
  const rule = bar.querySelector("select[name=rule]");
  const type = () => {
    document.getElementById("typed").hidden = !["Offset", "InRow"].includes(rule.value);
  };
  rule.addEventListener("change", type);
  // A browser may have kept what stood there before, or somebody was faster than this came.
  narrow();
  type();
}
