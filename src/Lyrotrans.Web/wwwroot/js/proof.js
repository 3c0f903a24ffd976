// Proof: the strip of clips, the table of comparisons (windowed), the residuals.
import { keys, position } from "./desk.js";
import { Listen } from "./listen.js";
import { csv } from "./table.js";
import { el, grouped, say, svg } from "./words.js";

const box = document.getElementById("proof");
if (box) start(await (await fetch(`/builds/${box.dataset.build}/proof`)).json());

function start(proof) {
  const failures = proof.rows.filter(r => !r.passed).length, worst = proof.worstResidualDb;
  document.getElementById("summary").textContent = `${grouped(proof.rows.length)} comparisons, ${failures ? `${failures} differ` : "no difference"}. Largest residual ${typeof worst === "string" ? "−∞: bit-exact" : `${dbfs(worst)} dBFS`}.`;
  dots(proof.clips);
  residuals(proof.residuals);
  if (proof.stems) stems(proof.stems);
  if (proof.overs?.length) overs(proof.overs);
  table(proof.rows);
  hear(proof.residuals.filter(r => r.path));
  keys({ d: () => document.getElementById("download").click() });
}
function dbfs(value) { return typeof value === "string" ? "−∞" : `${value < 0 ? "−" : ""}${Math.abs(value).toFixed(1)}`; }

function dots(clips) {
  const chart = document.getElementById("dots"), W = chart.clientWidth, H = 112, most = Math.max(6, ...clips.map(c => Math.abs(c.offset))), middle = H / 2, Y = v => middle - v / most * 42;
  chart.setAttribute("viewBox", `0 0 ${W} ${H}`);
  for (const v of [-most, -most / 2, 0, most / 2, most]) {
    chart.append(svg("line", { x1: 44, x2: W, y1: Y(v), y2: Y(v), stroke: `var(--${v ? "rule-2" : "ink"})`, "stroke-width": v ? 1 : 1.2 }));
    chart.append(svg("text", { x: 38, y: Y(v) + 4, "text-anchor": "end" }, v === 0 ? "0" : `${v > 0 ? "+" : "−"}${grouped(Math.abs(Math.round(v * 10) / 10))}`));
  }
  const step = (W - 60) / Math.max(1, clips.length);
  let free = 0;
  clips.forEach((clip, i) => {
    const x = 50 + i * step;
    if (!clip.offset) { chart.append(svg("circle", { cx: x, cy: middle, r: 2, fill: "var(--carried)" })); return; }
    chart.append(svg("line", { x1: x, x2: x, y1: middle, y2: Y(clip.offset), stroke: "var(--flag)" }), svg("path", { d: `M${x} ${Y(clip.offset) - 5}l5 9h-10z`, fill: "var(--flag)" }));
    if (x > free) { chart.append(svg("text", { x: x + 8, y: Y(clip.offset) + 4, fill: "var(--flag)" }, `${clip.name}, ${clip.offset < 0 ? "−" : "+"}${grouped(Math.abs(clip.offset))}`)); free = x + 200; }
  });
}

// From the place in the position line: a file as it was meant, as it was found, and what lies between.
function hear(files) {
  const heard = document.getElementById("heard"), buttons = [...document.querySelectorAll("[data-hear]")], start = Number(box.dataset.start);
  heard.append(...files.map(f => el("option", { value: f.path }, f.name)));
  let what = null, from = 0;
  const listening = new Listen(seconds => { for (const b of buttons) b.setAttribute("aria-pressed", listening.on && b.dataset.hear === what); });
  box.listening = listening;
  for (const button of buttons) button.addEventListener("click", () => {
    what = button.dataset.hear; from = Math.max(0, position.sample - start);
    listening.toggle(`/builds/${box.dataset.build}/listen?path=${encodeURIComponent(heard.value)}&what=${what}&from=${from}`);
  });
  heard.addEventListener("change", () => listening.on && listening.stop());
  keys({ a: () => listening.on && listening.stop() });
}

// What is left of the stems: a bar a second, the bound as a line.
function stems(sum) {
  const box = document.getElementById("stems"), chart = document.getElementById("stem-sum"), W = 352, H = 84, X = i => 34 + i / sum.perSecondDb.length * (W - 40), Y = v => 6 + Math.min(160, Math.max(0, -v)) / 160 * (H - 14);
  box.hidden = false;
  chart.setAttribute("viewBox", `0 0 ${W} ${H}`); chart.style.height = `${H}px`;
  for (const v of [0, -60, -120]) chart.append(svg("line", { x1: 34, x2: W, y1: Y(v), y2: Y(v), stroke: `var(--${v === -120 ? "ink" : "rule-2"})` }), svg("text", { x: 30, y: Y(v) + 4, "text-anchor": "end" }, v ? `−${-v}` : "0"));
  sum.perSecondDb.forEach((db, i) => { if (typeof db === "string") return; chart.append(svg("rect", { x: X(i), y: Y(db), width: Math.max(1, X(1) - X(0) - 1), height: Math.max(1, Y(-160) - Y(db)), fill: `var(--${db <= sum.boundDb ? "ink-2" : "flag"})` })); });
  const why = sum.bent.map(b => `${b.effect} on ${b.track}`).join(", ");
  document.getElementById("stem-words").textContent = `At most ${dbfs(sum.worstDb)} dBFS. ${why ? `Not linear, so they do not sum: ${why}.` : sum.clipped ? "The mix is held at full scale, so they do not sum there." : "They sum to the mix."}`;
  document.getElementById("before-master").hidden = !sum.masterBends;
}
function overs(files) {
  document.getElementById("overs").hidden = false;
  const worst = files.reduce((a, b) => b.peakDb > a.peakDb ? b : a);
  document.getElementById("over-words").replaceChildren(el("i", { class: "pennant" }), `${files.length} ${files.length === 1 ? "file is" : "files are"} held at full scale; ${worst.path.split("/").pop()} by ${worst.peakDb.toFixed(1)} dB.`);
}

function residuals(list) {
  const chart = document.getElementById("residuals"), W = 352, row = 21, H = 24 + list.length * row, X = v => 118 + (160 + Math.max(-160, Math.min(0, v))) / 160 * 150;
  chart.setAttribute("viewBox", `0 0 ${W} ${H}`); chart.style.height = `${H}px`;
  for (const v of [-150, -100, -50, 0]) chart.append(svg("line", { x1: X(v), x2: X(v), y1: 14, y2: H, stroke: "var(--rule-2)" }), svg("text", { x: X(v), y: 11, "text-anchor": "middle" }, v ? `−${-v}` : "0 dBFS"));
  list.forEach((r, i) => {
    const y = 28 + i * row, exact = typeof r.peakDb === "string";
    chart.append(svg("text", { x: 110, y: y + 4, "text-anchor": "end", class: "t" }, r.name.length > 17 ? `${r.name.slice(0, 16)}…` : r.name));
    chart.append(svg("rect", { x: X(-160), y: y - 5, width: exact ? 3 : Math.max(3, X(r.peakDb) - X(-160)), height: 10, fill: `var(--${exact ? "carried" : r.passed ? "ink-2" : "flag"})` }));
    chart.append(svg("text", { x: 280, y: y + 4, fill: exact ? "var(--carried)" : "var(--ink)" }, exact ? "bit-exact" : dbfs(r.peakDb)));
  });
}

function table(all) {
  const view = document.getElementById("rows"), ROW = 25, heads = [["clip, track or file", "subject"], ["what", "what"], ["meant", "meant"], ["found", "found"], ["difference", "difference"]];
  let rows = all, sorted = null, down = false;
  const head = el("div", { class: "row headrow" }, ...heads.map(([words, key], i) => { const b = el("button", { class: "plain", type: "button" }, words); b.addEventListener("click", () => { down = sorted === key && !down; sorted = key; refresh(); }); return el("span", { class: i > 1 ? "n" : "" }, b); }));
  const body = el("div", {}); body.style.position = "relative";
  view.append(head, body);
  const which = document.getElementById("which-rows"), find = document.getElementById("find");
  which.addEventListener("change", refresh); find.addEventListener("input", refresh); view.addEventListener("scroll", paint); new ResizeObserver(paint).observe(view);
  document.getElementById("copy").addEventListener("click", async () => { try { await navigator.clipboard.writeText(csv([heads.map(h => h[0]), ...rows.map(r => heads.map(h => r[h[1]]))])); say(`${grouped(rows.length)} rows copied as CSV`); } catch { say("The browser did not allow the copy."); } });
  keys({ x: () => { which.value = which.value === "all" ? "failed" : "all"; refresh(); }, "/": () => find.focus() });
  function refresh() {
    const want = find.value.toLowerCase();
    rows = all.filter(r => (which.value === "all" || !r.passed) && (!want || `${r.subject} ${r.what}`.toLowerCase().includes(want)));
    if (sorted) rows = [...rows].sort((a, b) => a[sorted].localeCompare(b[sorted], undefined, { numeric: true }) * (down ? -1 : 1));
    document.getElementById("rowcount").textContent = `${grouped(rows.length)} of ${grouped(all.length)} rows`;
    body.style.height = `${rows.length * ROW}px`;
    paint();
  }
  function paint() {
    const first = Math.max(0, Math.floor(view.scrollTop / ROW) - 5), last = Math.min(rows.length, first + Math.ceil(view.clientHeight / ROW) + 10);
    body.replaceChildren(...rows.slice(first, last).map((r, i) => {
      const line = el("div", { class: `row${r.passed ? "" : " bad"}` }, el("span", { title: r.subject }, ...(r.passed ? [] : [el("i", { class: "pennant" })]), r.subject), el("span", {}, r.what), ...["meant", "found", "difference"].map(k => el("span", { class: "n", title: r[k] }, r[k])));
      line.style.top = `${(first + i) * ROW}px`;
      return line;
    }));
  }
  refresh();
}
