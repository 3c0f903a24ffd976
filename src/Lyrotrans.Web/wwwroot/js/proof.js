// Proof: the strip of clips, the table of comparisons (windowed), the residuals.
import { keys, position } from "./desk.js";
import { Listen } from "./listen.js";
import { Comparisons } from "./comparisons.js";
import "./table.js";
import { el, grouped, svg } from "./words.js";

const page = document.getElementById("proof");
if (page) show(await (await fetch(`/builds/${page.dataset.build}/proof`)).json());

function show(proof) {
  const failures = proof.rows.filter(r => !r.passed).length,
    worst = proof.worstResidualDb;
  const differ = failures ? `${failures} differ` : "no difference",
    residual = typeof worst === "string" ? "−∞: bit-exact" : `${dbfs(worst)} dBFS`;
  document.getElementById("summary").textContent = `${grouped(proof.rows.length)} comparisons, ${differ}. Largest residual ${residual}.`;
  dots(proof.clips);
  residuals(proof.residuals);
  if (proof.stems) stems(proof.stems);
  if (proof.guide) guide(proof.guide);
  if (proof.overs?.length) overs(proof.overs);
  new Comparisons(proof.rows);
  hear(proof.residuals.filter(r => r.path));
  keys({ d: () => document.getElementById("download").click() });
}
function dbfs(value) {
  return typeof value === "string" ? "−∞" : `${value < 0 ? "−" : ""}${Math.abs(value).toFixed(1)}`;
}

function dots(clips) {
  const chart = document.getElementById("dots"),
    W = chart.clientWidth,
    H = 112,
    most = Math.max(6, ...clips.map(c => Math.abs(c.offset))),
    middle = H / 2,
    Y = v => middle - (v / most) * 42;
  chart.setAttribute("viewBox", `0 0 ${W} ${H}`);
  for (const v of [-most, -most / 2, 0, most / 2, most]) {
    chart.append(svg("line", { x1: 44, x2: W, y1: Y(v), y2: Y(v), stroke: `var(--${v ? "rule-2" : "ink"})`, "stroke-width": v ? 1 : 1.2 }));
    chart.append(
      svg(
        "text",
        { x: 38, y: Y(v) + 4, "text-anchor": "end" },
        v === 0 ? "0" : `${v > 0 ? "+" : "−"}${grouped(Math.abs(Math.round(v * 10) / 10))}`,
      ),
    );
  }
  const step = (W - 60) / Math.max(1, clips.length);
  let free = 0;
  clips.forEach((clip, i) => {
    const x = 50 + i * step;
    if (!clip.offset) {
      chart.append(svg("circle", { cx: x, cy: middle, r: 2, fill: "var(--carried)" }));
      return;
    }
    chart.append(
      svg("line", { x1: x, x2: x, y1: middle, y2: Y(clip.offset), stroke: "var(--flag)" }),
      svg("path", { d: `M${x} ${Y(clip.offset) - 5}l5 9h-10z`, fill: "var(--flag)" }),
    );
    if (x > free) {
      chart.append(
        svg(
          "text",
          { x: x + 8, y: Y(clip.offset) + 4, fill: "var(--flag)" },
          `${clip.name}, ${clip.offset < 0 ? "−" : "+"}${grouped(Math.abs(clip.offset))}`,
        ),
      );
      free = x + 200;
    }
  });
}

// From the place in the position line: a file as it was meant, as it was found, and what lies between.
function hear(files) {
  const heard = document.getElementById("heard"),
    buttons = [...document.querySelectorAll("[data-hear]")],
    start = Number(page.dataset.start);
  heard.append(...files.map(f => el("option", { value: f.path }, f.name)));
  let what = null,
    from = 0;
  const listening = new Listen(() => {
    for (const b of buttons) b.setAttribute("aria-pressed", listening.on && b.dataset.hear === what);
  });
  page.listening = listening;
  for (const button of buttons)
    button.addEventListener("click", () => {
      what = button.dataset.hear;
      from = Math.max(0, position.sample - start);
      listening.toggle(`/builds/${page.dataset.build}/listen?path=${encodeURIComponent(heard.value)}&what=${what}&from=${from}`);
    });
  heard.addEventListener("change", () => listening.on && listening.stop());
  keys({ a: () => listening.on && listening.stop() });
}

// What is left: a bar a second; what rounding does not explain stands out.
function left(box, chart, sum) {
  const W = 352,
    H = 84,
    X = i => 34 + (i / sum.perSecondDb.length) * (W - 40),
    Y = v => 6 + (Math.min(160, Math.max(0, -v)) / 160) * (H - 14);
  box.hidden = false;
  chart.setAttribute("viewBox", `0 0 ${W} ${H}`);
  chart.style.height = `${H}px`;
  for (const v of [0, -60, -120])
    chart.append(
      svg("line", { x1: 34, x2: W, y1: Y(v), y2: Y(v), stroke: `var(--${v === -120 ? "ink" : "rule-2"})` }),
      svg("text", { x: 30, y: Y(v) + 4, "text-anchor": "end" }, v ? `−${-v}` : "0"),
    );
  sum.perSecondDb.forEach((db, i) => {
    if (typeof db === "string") return;
    chart.append(
      svg("rect", {
        x: X(i),
        y: Y(db),
        width: Math.max(1, X(1) - X(0) - 1),
        height: Math.max(1, Y(-160) - Y(db)),
        fill: `var(--${db <= sum.boundDb ? "ink-2" : "flag"})`,
      }),
    );
  });
}
function guide(rest) {
  left(document.getElementById("guide"), document.getElementById("guide-rest"), rest);
  document.getElementById("guide-words").textContent =
    `${dbfs(rest.worstDb)} dBFS is left of the guide mix that came along, ` +
    (rest.worstDb === "-Infinity" || rest.worstDb <= rest.boundDb
      ? "no more than rounding: everything in it is here, once."
      : `most in second ${rest.loudestSecond}: something in it is not here, is here twice, or sounds otherwise.`);
}
function stems(sum) {
  left(document.getElementById("stems"), document.getElementById("stem-sum"), sum);
  const why = sum.bent.map(b => `${b.effect} on ${b.track}`).join(", ");
  const clipped = "The mix is held at full scale, so they do not sum there.",
    words = why ? `Not linear, so they do not sum: ${why}.` : sum.clipped ? clipped : "They sum to the mix.";
  document.getElementById("stem-words").textContent = `At most ${dbfs(sum.worstDb)} dBFS. ${words}`;
  document.getElementById("before-master").hidden = !sum.masterBends;
}
function overs(files) {
  document.getElementById("overs").hidden = false;
  const worst = files.reduce((a, b) => (b.peakDb > a.peakDb ? b : a));
  document
    .getElementById("over-words")
    .replaceChildren(
      el("i", { class: "pennant" }),
      `${files.length} ${files.length === 1 ? "file is" : "files are"} held at full scale; `,
      `${worst.path.split("/").pop()} by ${worst.peakDb.toFixed(1)} dB.`,
    );
}

function residuals(list) {
  const chart = document.getElementById("residuals"),
    W = 352,
    row = 21,
    H = 24 + list.length * row,
    X = v => 118 + ((160 + Math.max(-160, Math.min(0, v))) / 160) * 150;
  chart.setAttribute("viewBox", `0 0 ${W} ${H}`);
  chart.style.height = `${H}px`;
  for (const v of [-150, -100, -50, 0])
    chart.append(
      svg("line", { x1: X(v), x2: X(v), y1: 14, y2: H, stroke: "var(--rule-2)" }),
      svg("text", { x: X(v), y: 11, "text-anchor": "middle" }, v ? `−${-v}` : "0 dBFS"),
    );
  list.forEach((r, i) => {
    const y = 28 + i * row,
      exact = typeof r.peakDb === "string";
    chart.append(
      svg("text", { x: 110, y: y + 4, "text-anchor": "end", class: "t" }, r.name.length > 17 ? `${r.name.slice(0, 16)}…` : r.name),
    );
    chart.append(
      svg("rect", {
        x: X(-160),
        y: y - 5,
        width: exact ? 3 : Math.max(3, X(r.peakDb) - X(-160)),
        height: 10,
        fill: `var(--${exact ? "carried" : r.passed ? "ink-2" : "flag"})`,
      }),
    );
    chart.append(svg("text", { x: 280, y: y + 4, fill: exact ? "var(--carried)" : "var(--ink)" }, exact ? "bit-exact" : dbfs(r.peakDb)));
  });
}
