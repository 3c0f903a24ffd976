// Levels: every row plays what it measures, and the next goes on from it.
import { keys } from "./desk.js";
import { Listen } from "./listen.js";
import "./table.js";

class Rows {
  constructor(table) {
    this.table = table;
    this.at = null;
    this.listening = new Listen(seconds => this.mark(seconds !== null));
    table.tBodies[0].addEventListener("click", e => {
      const row = e.target.closest("button[data-hear]")?.closest("tr");
      if (row) this.toggle(row);
    });
    keys({ a: () => this.toggle(this.at ?? this.rows()[0]), n: () => this.step(1), b: () => this.step(-1) });
  }
  /** As they are sorted now. */
  rows() {
    return [...this.table.tBodies[0].rows].filter(r => r.querySelector("[data-hear]"));
  }
  toggle(row) {
    if (!row) return;
    const same = row === this.at;
    this.listening.on && same ? this.listening.stop() : this.hear(row);
  }
  hear(row) {
    this.mark(false);
    this.at = row;
    this.listening.play(row.querySelector("[data-hear]").dataset.hear);
    this.mark(true);
    row.scrollIntoView({ block: "nearest" });
  }
  step(by) {
    const rows = this.rows(),
      next = rows[rows.indexOf(this.at) + by];
    if (next) this.hear(next);
  }
  mark(on) {
    this.at?.classList.toggle("heard", on);
    this.at?.querySelector("[data-hear]").setAttribute("aria-pressed", on);
  }
}

const table = document.getElementById("levels");
if (table) new Rows(table);
