// Build: start by key; which objects stand behind a row of the carry plan, by Enter.
import { keys } from "./desk.js";
import "./table.js";

for (const row of document.querySelectorAll("#carry tbody tr"))
  row.addEventListener("keydown", e => {
    if (e.key === "Enter") row.click();
  });
keys({ b: () => document.getElementById("build")?.click() });
