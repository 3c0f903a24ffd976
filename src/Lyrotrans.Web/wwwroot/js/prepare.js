// The track sheet by keyboard: a row in hand, rows marked, one field changed on all of them.
import { keys, position } from "./desk.js";
import { el, say } from "./words.js";

let current = 0;
// The row that was marked last; what rows are found by; the click that is heard; the newest question for names.
let lastMark = null,
  wanted = "",
  click = null,
  asked = 0;
const marked = new Set();
const sheet = () => document.getElementById("sheet");
const rows = () => [...document.querySelectorAll("#rows tbody tr[data-track]")];
if (sheet()) start();

function start() {
  wireDragging();
  wireChoices();
  wirePresses();
  // A refused change must not go on standing in its field.
  document.addEventListener("htmx:responseError", e => {
    if (e.detail.xhr.status === 400)
      window.htmx
        .ajax("GET", "?handler=Sheet", { target: "#sheet", swap: "outerHTML" })
        .then(() => document.dispatchEvent(new Event("sheet-changed")));
  });
  document.addEventListener("htmx:afterSettle", show);
  document.getElementById("fewest-of").addEventListener("toggle", findFewest);
  document.addEventListener("sheet-changed", () => {
    findFewest();
    const number = sheet().dataset.revision;
    document.body.dataset.revision = number;
    document.getElementById("revision").textContent = number;
    for (const input of document.querySelectorAll(".over input[name=from]")) input.value = number;
  });
  keys({
    ArrowUp: () => step(-1),
    ArrowDown: () => step(1),
    "Shift ArrowUp": () => move("up"),
    "Shift ArrowDown": () => move("down"),
    t: () => turn("treatment"),
    c: () => turn("channels"),
    p: () => turn("inverted"),
    m: () => rows()[current]?.querySelector("input[name=marked]")?.click(),
    n: () => rows()[current]?.querySelector("input[name=name]")?.select(),
    "/": () => document.getElementById("find-rows").focus(),
    x: () => mark(current, current),
    X: () => mark(lastMark ?? current, current),
    b: () => document.querySelector("#stages a[href$=build]").click(),
  });
  show();
}

// Fields that are chosen or typed in.
function wireChoices() {
  document.addEventListener("change", e => {
    if (e.target.id === "range-of" && e.target.value) post("?handler=RangeOf", { marker: e.target.value });
    if (e.target.id === "group-rows") {
      sessionStorage.setItem("group-rows", e.target.checked);
      show();
    }
    if (e.target.id === "originals" && e.target.selectedIndex) fetchOriginals(e.target);
    if (e.target.id === "order-rows" && e.target.value) send([], "sort", e.target.value);
    const field = e.target.closest("#rows select, #rows input");
    if (field?.closest("tr").dataset.of) send([field.closest("tr").dataset.of], field.name, field.value);
    else if (field) set(field.closest("tr"), field.name, field.type === "checkbox" ? field.checked : field.value);
    if (e.target.name === "through") through();
    if (e.target.name === "oversampled") set(rows()[current], "oversampled", `${e.target.dataset.effect}\n${e.target.value}`);
  });
  document.addEventListener("input", e => {
    if (e.target.name === "files.namePattern") tryPattern(e.target.value);
    if (e.target.id === "find-rows") find(e.target.value);
  });
}
// Rows and buttons that are pressed.
function wirePresses() {
  document.addEventListener("click", e => {
    const row = e.target.closest("#rows tbody tr[data-track]");
    if (row) {
      current = rows().indexOf(row);
      show();
    }
    if (e.target.id === "hear-click") hearClick(e.target);
    if (e.target.dataset.markBus !== undefined) markBus(e.target.closest("tr"));
    if (e.target.dataset.notBeneath) send([e.target.closest("tr").dataset.of], "not beneath", e.target.dataset.notBeneath);
    if (e.target.id === "as-mono") send(JSON.parse(e.target.dataset.tracks), "channels", "mono");
    if (e.target.dataset.here) here(e.target.dataset.here);
    if (e.target.id === "all-go") send([], "everything", "");
    if (e.target.id === "mark-found") mark(0, rows().length - 1);
    if (e.target.id === "others-back") send([...marked], "others back", "");
  });
}

// Rows by what they say: name, kind, treatment, stem; what is not shown is not marked either.
function find(words) {
  wanted = words;
  show();
}
function narrow() {
  const field = document.getElementById("find-rows"),
    words = wanted.trim().toLowerCase();
  if (field && field.value !== wanted) field.value = wanted;
  for (const row of rows()) {
    const value = name => row.querySelector(`[name=${name}]`),
      treatment = value("treatment"),
      stem = value("group"),
      says = [row.dataset.name, row.dataset.kind, treatment?.options[treatment.selectedIndex].text, stem?.value || stem?.placeholder];
    row.hidden = words !== "" && !says.some(s => s?.toLowerCase().includes(words));
  }
  const button = document.getElementById("mark-found");
  if (button) button.hidden = words === "";
}

// The smallest set is searched only while it is looked at.
function findFewest() {
  if (document.getElementById("fewest-of").open) window.htmx.ajax("GET", "?handler=Fewest", { target: "#fewest", swap: "innerHTML" });
}

// Rows are taken by their number and put before another row, marked ones together.
function wireDragging() {
  let taken = null;
  const over = e => (taken ? e.target.closest?.("#rows tr[data-track], #rows tfoot") : null);
  const clear = () => document.querySelectorAll("#rows .goes-here").forEach(row => row.classList.remove("goes-here"));
  document.addEventListener("dragstart", e => {
    const row = e.target.closest?.("#rows td.order")?.closest("tr[data-track]");
    if (!row) return;
    taken = row.dataset.track;
    e.dataTransfer.effectAllowed = "move";
    e.dataTransfer.setData("text/plain", row.dataset.name);
  });
  document.addEventListener("dragover", e => {
    const row = over(e);
    if (!row) return;
    e.preventDefault();
    clear();
    row.classList.add("goes-here");
  });
  document.addEventListener("drop", e => {
    const row = over(e);
    if (!row) return;
    e.preventDefault();
    send(marked.has(taken) ? [...marked] : [taken], "before", row.dataset.track ?? "");
  });
  document.addEventListener("dragend", () => {
    taken = null;
    clear();
  });
}

// A line above the first row of each bus, with how many there are; those that are not shown have none.
function group() {
  const box = document.getElementById("group-rows");
  document.querySelectorAll("#rows tr.busline").forEach(line => line.remove());
  if (!box) return;
  box.checked = sessionStorage.getItem("group-rows") === "true";
  if (!box.checked) return;
  const shown = rows().filter(row => !row.hidden),
    width = document.querySelectorAll("#rows thead th").length;
  shown.forEach((row, i) => {
    if (i && shown[i - 1].dataset.bus === row.dataset.bus) return;
    let count = 1;
    while (shown[i + count]?.dataset.bus === row.dataset.bus) count++;
    const button = el("button", { type: "button", class: "plain", "data-mark-bus": "" }, count === 1 ? "mark it" : `mark these ${count}`);
    row.before(el("tr", { class: "busline" }, el("td", { colspan: width }, el("b", {}, row.dataset.bus), " ", button)));
  });
}
function markBus(line) {
  for (let row = line.nextElementSibling; row && !row.matches(".busline"); row = row.nextElementSibling)
    if (row.dataset.track && !row.hidden) marked.add(row.dataset.track);
  show();
}

// What a pattern makes of all names, while it is typed; only the last answer counts.
async function tryPattern(pattern) {
  const mine = ++asked;
  await new Promise(done => setTimeout(done, 120));
  if (mine !== asked) return;
  const told = await fetch(ofReceiver(`?handler=Names&pattern=${encodeURIComponent(pattern)}`));
  if (!told.ok) return;
  const answer = await told.json();
  const problem = document.getElementById("pattern-problem");
  if (mine !== asked || !problem) return;
  problem.textContent = answer.problem ?? "";
  for (const row of rows()) {
    const field = row.querySelector("input[name=name]");
    if (field && answer.names) field.value = answer.names[row.dataset.track] ?? field.value;
  }
}

// The click as it stands, on and off.
function hearClick(button) {
  const on = click === null;
  if (on) {
    click = new Audio(ofReceiver(button.dataset.from));
    click.addEventListener("ended", () => hearClick(document.getElementById("hear-click")));
    // Stopped before it began is no problem; a click that cannot be played is said.
    click.play().catch(problem => {
      if (problem.name === "AbortError") return;
      say("The browser did not begin to play.");
      if (click) hearClick(document.getElementById("hear-click"));
    });
  } else {
    click.pause();
    click = null;
  }
  button.textContent = on ? "stop" : "hear it";
  button.setAttribute("aria-pressed", String(on));
}

// The effects that the row's prints go through, each on or off.
function chosenEffects(effects) {
  const boxes = effects.map(e => {
    const box = el("input", { type: "checkbox", name: "through", value: e.name });
    box.checked = e.kept && !e.bypassed;
    box.disabled = e.bypassed;
    const label = el("label", {}, box, ` ${e.name}${e.bypassed ? ", bypassed here" : ""}`);
    return e.here ? el("span", { class: "effect" }, label, oversampling(e)) : label;
  });
  return el("div", { class: "settings" }, el("fieldset", { class: "through many" }, el("legend", {}, "its prints go through"), ...boxes));
}
// How many times one effect is oversampled; without a choice as all are, or as the session says.
function oversampling(e) {
  const label = `Oversampling of ${e.name}`,
    select = el("select", { name: "oversampled", "data-effect": e.name, "aria-label": label, title: "oversampling" });
  for (const times of [0, 1, 2, 4]) select.append(el("option", { value: times }, times ? `${times} times` : `${e.here} as here`));
  select.value = String(e.times);
  return select;
}
function through() {
  const boxes = [...document.querySelectorAll("#row-facts input[name=through]:not(:disabled)")];
  set(
    rows()[current],
    "without",
    boxes
      .filter(b => !b.checked)
      .map(b => b.value)
      .join("\n"),
  );
}
// One row on or off, or all between two on.
function mark(from, to) {
  const [first, last] = [from, to].sort((a, b) => a - b);
  for (const row of rows().slice(first, last + 1)) {
    if (row.hidden) continue;
    const id = row.dataset.track;
    from === to && marked.has(id) ? marked.delete(id) : marked.add(id);
  }
  lastMark = to;
  show();
}
// An address with whom the page is for.
const ofReceiver = address => address + document.body.dataset.query.replace("?", "&");
function step(by) {
  let next = current + by;
  while (rows()[next]?.hidden) next += by;
  if (rows()[next]) current = next;
  show();
  rows()[current].scrollIntoView({ block: "nearest" });
}
function turn(name) {
  const select = rows()[current]?.querySelector(`select[name=${name}]`);
  if (!select) return;
  set(rows()[current], name, select.options[(select.selectedIndex + 1) % select.options.length].value);
}
function move(way) {
  const id = rows()[current].dataset.track;
  send([id], "move", way).then(() => {
    current = rows().findIndex(r => r.dataset.track === id);
    show();
  });
}
function set(row, field, value) {
  const ids = marked.has(row.dataset.track) && field !== "name" ? [...marked] : [row.dataset.track];
  return send(ids, field, value);
}
function send(track, field, value) {
  return post("?handler=Set", { track, field, value });
}
function post(where, values) {
  return window.htmx.ajax("POST", where, { target: "#sheet", swap: "outerHTML", values: { from: sheet().dataset.revision, ...values } });
}
// The media of marked tracks as they came, in one zip.
function fetchOriginals(select) {
  const tracks = [...marked].map(id => `track=${encodeURIComponent(id)}`).join("&");
  location.assign(ofReceiver(`originals?${tracks}${select.value}`));
  select.selectedIndex = 0;
}
// The place of the position line becomes what a field says.
function here(name) {
  const field = document.querySelector(`input[name='${name}']`);
  field.value = String(position.sample);
  field.dispatchEvent(new Event("change", { bubbles: true }));
}
function show() {
  narrow();
  group();
  rows().forEach((row, i) => {
    row.classList.toggle("on", i === current);
    row.classList.toggle("marked", marked.has(row.dataset.track));
  });
  for (const field of document.querySelectorAll("input[name='files.chosenStart'], input[name='files.chosenEnd']"))
    field.setAttribute("list", "places");
  const others = document.getElementById("others-back");
  if (others) others.hidden = marked.size === 0;
  const originals = document.getElementById("originals");
  if (originals) originals.hidden = marked.size === 0;
  const row = rows()[current];
  if (!row) return;
  const d = row.dataset,
    value = name => row.querySelector(`[name=${name}]`),
    word = s => (s?.options ? s.options[s.selectedIndex].text : s?.value);
  const facts = [
    ["treatment", word(value("treatment")) ?? row.querySelector(".st span")?.textContent],
    ["delivered as", value("name")?.value ?? "–"],
    ["channels", word(value("channels")) ?? "–"],
  ];
  const effects = JSON.parse(d.effects),
    forms = [
      word(value("treatment")),
      ...[...document.querySelectorAll(`#rows tr[data-of="${CSS.escape(d.track)}"] .st`)].map(s => s.textContent),
    ];
  if (effects.length && !forms.some(f => /through|level|mixed|print$/.test(f ?? "")))
    facts.push(["effects", `${effects.map(e => e.name).join(", ")}: not in a dry print`]);
  if (Number(d.latency)) facts.push(["their latency", `${d.latency} samples`]);
  if (value("inverted")) facts.push(["polarity", value("inverted").value === "true" ? "inverted" : "as it is"]);
  if (d.inverted) facts.push(["in the mix", "polarity inverted; not in a dry print"]);
  if (d.sends) facts.push(["sends to", `${d.sends}`]);
  const side = document.getElementById("row-facts");
  side.replaceChildren(
    el("h2", {}, d.name),
    el("table", {}, el("tbody", {}, ...facts.map(([k, v]) => el("tr", {}, el("td", {}, k), el("td", {}, v ?? ""))))),
    ...(effects.length && forms.some(f => /through|level|mixed|print$/.test(f ?? "")) ? [chosenEffects(effects)] : []),
    el(
      "p",
      { class: "soft" },
      marked.size
        ? `${marked.size === 1 ? "1 row is" : `${marked.size} rows are`} marked; what is changed on one of them is changed on all.`
        : "x marks the row, to change several together.",
    ),
  );
}
