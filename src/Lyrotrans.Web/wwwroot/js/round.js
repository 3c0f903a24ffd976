// The listening round: one file after the other, delivered against session, from place to place.
import { keys } from "./desk.js";
import { Listen } from "./listen.js";
import { outlined } from "./outline.js";
import { decibels, el, grouped, svg } from "./words.js";

const round = document.getElementById("round"),
  picture = document.getElementById("now"),
  listenButton = document.getElementById("listen");
const rows = () => [...document.querySelectorAll("#round-files tbody tr")];
const WORDS = {
  FirstSound: "first sound",
  Peak: "peak",
  Clipped: "full scale",
  Silence: "silence",
  Difference: "difference",
  LastSound: "last sound",
};
let current = -1,
  file = null,
  what = "found",
  at = 0,
  from = 0,
  places = [];

const listen = new Listen(seconds => {
  listenButton.setAttribute("aria-pressed", String(seconds !== null));
  if (seconds === null) return;
  at = Math.min(file.samples, from + Math.round(seconds * file.rate));
  shown();
});
listen.sound.addEventListener("ended", () => {
  at = 0;
  shown();
});

function go(number) {
  const row = rows()[number];
  if (!row) return;
  const wasOn = listen.on;
  listen.stop();
  current = number;
  file = { path: row.dataset.path, name: row.dataset.name, samples: Number(row.dataset.samples), rate: Number(row.dataset.rate) };
  at = 0;
  places = [];
  picture.replaceChildren();
  outlined.show(picture, `/builds/${round.dataset.build}/outline?path=${encodeURIComponent(file.path)}`);
  document.getElementById("now-places").replaceChildren();
  find(file);
  shown();
  mark();
  if (wasOn) play();
}
function mark() {
  for (const [i, row] of rows().entries()) row.classList.toggle("on", i === current);
  rows()[current]?.scrollIntoView({ block: "nearest" });
}
function shown() {
  document.getElementById("now-name").textContent = `${current + 1} of ${rows().length}: ${file.name}`;
  document.getElementById("now-at").textContent = `${grouped(at)} of ${grouped(file.samples)} samples`;
  outlined.mark(picture, at / Math.max(1, file.samples));
}
async function find(of) {
  const answer = await fetch(`/builds/${round.dataset.build}/places?path=${encodeURIComponent(of.path)}`);
  if (!answer.ok || of !== file) return;
  places = await answer.json();
  const buttons = places.map(p => {
    const button = el(
      "button",
      { type: "button", class: p.kind === "Clipped" ? "plain flag" : "plain", "data-place": p.sample },
      `${WORDS[p.kind]}${p.db === null ? "" : ` ${decibels(p.db)}FS`}, ${grouped(p.sample)}`,
    );
    button.addEventListener("click", () => jump(p.sample));
    return button;
  });
  document
    .getElementById("now-places")
    .replaceChildren(...(buttons.length ? buttons : [el("span", { class: "soft" }, "silence from end to end")]));
  for (const p of places) {
    const x = (480 * p.sample) / Math.max(1, of.samples);
    picture.append(svg("line", { class: `place ${p.kind === "Clipped" ? "bad" : ""}`, x1: x, x2: x, y1: 0, y2: 46 }));
  }
}
function play() {
  from = at >= file.samples ? 0 : at;
  const path = encodeURIComponent(file.path);
  listen.play(`/builds/${round.dataset.build}/listen?path=${path}&what=${what}&from=${from}`);
}
function toggle() {
  if (listen.on) listen.stop();
  else play();
}
// A little before, so that it comes to one as it comes in the music.
function jump(sample) {
  at = Math.max(0, sample - file.rate / 2);
  shown();
  play();
}
function next() {
  const later = places.find(p => p.sample > at + file.rate / 2 + 1) ?? places[0];
  if (later) jump(later.sample);
}
function hear(which) {
  what = which;
  for (const button of document.querySelectorAll("[data-what]")) button.setAttribute("aria-pressed", String(button.dataset.what === what));
  if (listen.on) play();
}
async function say(values) {
  await window.htmx.ajax("POST", "?handler=Say", {
    target: "#heard",
    swap: "outerHTML",
    values: { build: round.dataset.build, path: file.path, ...values },
  });
  mark();
}
async function heard() {
  await say({ what: "heard", sample: 0, words: "" });
  if (current + 1 < rows().length) go(current + 1);
}

if (round) {
  listenButton.addEventListener("click", toggle);
  document.getElementById("heard-it").addEventListener("click", heard);
  for (const button of document.querySelectorAll("[data-what]")) button.addEventListener("click", () => hear(button.dataset.what));
  document.getElementById("fault").addEventListener("submit", async e => {
    e.preventDefault();
    const field = e.target.elements.words;
    await say({ what: "fault", sample: at, words: field.value });
    field.value = "";
    field.blur();
  });
  picture.addEventListener("click", e => {
    const box = picture.getBoundingClientRect();
    at = Math.round((file.samples * (e.clientX - box.left)) / box.width);
    shown();
    play();
  });
  document.addEventListener("click", e => {
    if (e.target.dataset?.go !== undefined) go(rows().indexOf(e.target.closest("tr")));
    if (e.target.dataset?.at !== undefined && e.target.closest("#round-files")) {
      go(rows().indexOf(e.target.closest("tr")));
      jump(Number(e.target.dataset.at));
    }
  });
  keys({
    a: toggle,
    h: heard,
    f: () => document.querySelector("#fault input").focus(),
    n: () => go(current + 1),
    b: () => go(current - 1),
    s: () => hear({ found: "meant", meant: "difference", difference: "found" }[what]),
    j: next,
    ArrowLeft: () => jump(at - 4.5 * file.rate),
    ArrowRight: () => jump(Math.min(file.samples, at + 5.5 * file.rate)),
  });
  const first = rows().findIndex(r => r.querySelector(".soft")?.textContent === "not heard");
  go(first < 0 ? 0 : first);
}
