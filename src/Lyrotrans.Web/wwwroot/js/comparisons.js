// The comparisons of a proof as a table of which only the rows in view are drawn.
import { keys } from "./desk.js";
import { csv } from "./csv.js";
import { el, grouped, say } from "./words.js";

const ROW = 25;
const HEADS = [
  ["clip, track or file", "subject"],
  ["what", "what"],
  ["meant", "meant"],
  ["found", "found"],
  ["difference", "difference"],
];

export class Comparisons {
  constructor(all) {
    Object.assign(this, { all, rows: all, sorted: null, down: false });
    this.view = document.getElementById("rows");
    this.which = document.getElementById("which-rows");
    this.find = document.getElementById("find");
    this.body = el("div", {});
    this.body.style.position = "relative";
    this.view.append(el("div", { class: "row headrow" }, ...HEADS.map((head, i) => this.head(head, i))), this.body);
    this.which.addEventListener("change", () => this.refresh());
    this.find.addEventListener("input", () => this.refresh());
    this.view.addEventListener("scroll", () => this.paint());
    new ResizeObserver(() => this.paint()).observe(this.view);
    document.getElementById("copy").addEventListener("click", () => this.copy());
    keys({ x: () => this.toggleWhich(), "/": () => this.find.focus() });
    this.refresh();
  }
  head([words, key], i) {
    const button = el("button", { class: "plain", type: "button" }, words);
    button.addEventListener("click", () => {
      this.down = this.sorted === key && !this.down;
      this.sorted = key;
      this.refresh();
    });
    return el("span", { class: i > 1 ? "n" : "" }, button);
  }
  async copy() {
    try {
      await navigator.clipboard.writeText(csv([HEADS.map(h => h[0]), ...this.rows.map(r => HEADS.map(h => r[h[1]]))]));
      say(`${grouped(this.rows.length)} rows copied as CSV`);
    } catch {
      say("The browser did not allow the copy.");
    }
  }
  toggleWhich() {
    this.which.value = this.which.value === "all" ? "failed" : "all";
    this.refresh();
  }
  refresh() {
    const want = this.find.value.toLowerCase(),
      { sorted } = this,
      way = this.down ? -1 : 1;
    const kind = { all: () => true, failed: r => !r.passed, stated: r => r.difference === "stated" }[this.which.value];
    const wanted = r => kind(r) && (!want || `${r.subject} ${r.what}`.toLowerCase().includes(want));
    this.rows = this.all.filter(wanted);
    if (sorted) this.rows.sort((a, b) => a[sorted].localeCompare(b[sorted], undefined, { numeric: true }) * way);
    document.getElementById("rowcount").textContent = `${grouped(this.rows.length)} of ${grouped(this.all.length)} rows`;
    this.body.style.height = `${this.rows.length * ROW}px`;
    this.paint();
  }
  paint() {
    const first = Math.max(0, Math.floor(this.view.scrollTop / ROW) - 5),
      last = Math.min(this.rows.length, first + Math.ceil(this.view.clientHeight / ROW) + 10);
    this.body.replaceChildren(...this.rows.slice(first, last).map((r, i) => this.line(r, first + i)));
  }
  line(row, at) {
    const line = el(
      "div",
      { class: `row${row.passed ? "" : " bad"}` },
      el("span", { title: row.subject }, ...(row.passed ? [] : [el("i", { class: "pennant" })]), row.subject),
      el("span", { title: row.what }, row.what),
      ...["meant", "found", "difference"].map(k => el("span", { class: "n", title: row[k] }, row[k])),
    );
    line.style.top = `${at * ROW}px`;
    return line;
  }
}
