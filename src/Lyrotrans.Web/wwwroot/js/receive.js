// The receiver's page: sound and its pictures, files held to their sums, and what is sent back.
import { chosen, dropped, refusal } from "./dropped.js";
import { Listen } from "./listen.js";
import { outlined } from "./outline.js";
import { bytes, el, grouped, say, token } from "./words.js";

const at = document.getElementById("received").dataset.at;

// Sound: one at a time, from the start or from where its picture is pressed.
let playing = null;
const listen = new Listen(seconds => {
  if (!playing) return;
  const { place, from, rate } = playing;
  outlined.mark(place.querySelector("svg"), seconds === null ? null : from + seconds / rate);
  place.querySelector("button").setAttribute("aria-pressed", String(seconds !== null));
  if (seconds === null) playing = null;
});
function play(place, share) {
  const { outline: number, samples } = place.dataset,
    address = `${at}/files/${number}/listen?from=${Math.floor(share * samples)}`;
  if (playing?.place === place && share === 0) return listen.stop();
  if (playing) listen.stop();
  playing = { place, from: share, rate: Number(place.dataset.seconds) || 1 };
  listen.play(address);
}
listen.sound.addEventListener("loadedmetadata", () => {
  if (playing && listen.sound.duration) playing.rate = listen.sound.duration / Math.max(1e-9, 1 - playing.from);
});
for (const place of document.querySelectorAll("[data-outline]")) {
  place.querySelector("button").addEventListener("click", () => play(place, 0));
  place.querySelector("svg").addEventListener("click", e => {
    const box = e.currentTarget.getBoundingClientRect();
    play(place, Math.min(0.999, Math.max(0, (e.clientX - box.left) / box.width)));
  });
}
outlined.watch(document.querySelectorAll("[data-outline]"), place => `${at}/files/${place.dataset.outline}/outline`);

// Sums: in a worker, piece by piece, so that no file has to fit into memory and the page stays quick.
const check = document.getElementById("check"),
  state = document.getElementById("check-state"),
  rows = new Map([...document.querySelectorAll("#files tbody tr")].map(r => [r.dataset.path, r]));
let worker = null;
async function hold(files) {
  if (!files.length) return;
  worker?.terminate();
  worker = new Worker("/js/sums.js", { type: "module" });
  worker.onmessage = ({ data }) => show(data);
  worker.onerror = () => (state.textContent = "The files could not be read; choose them again.");
  state.textContent = "Reading …";
  const answer = await fetch(`${at}/sums.json`);
  if (!answer.ok) {
    state.textContent = "The list of sums did not come; load the page again.";
    return;
  }
  worker.postMessage({ files, sums: await answer.json() });
}
const WORDS = { whole: "whole", differs: "differs", renamed: "whole, under another name", unread: "cannot be read" };
function show({ path, found, done, total, end }) {
  if (path) {
    // What the receiver had before has no row: it was not sent.
    const cell = rows.get(path)?.querySelector(".state");
    if (cell) {
      cell.textContent = WORDS[found];
      cell.className = `state ${found === "whole" || found === "renamed" ? "whole" : "differs"}`;
    }
  }
  if (total) state.textContent = `${bytes(done)} of ${bytes(total)} read`;
  if (end) told(end);
}
function told({ whole, differ, missing, strange, before, problem }) {
  const all = rows.size;
  state.className = differ || before?.differ || problem ? "flag" : missing ? "" : "good";
  state.textContent =
    problem ??
    [
      whole === all
        ? `All ${grouped(all)} files are whole: the same bytes that were sent.`
        : `${grouped(whole)} of ${grouped(all)} files whole.`,
      differ ? (differ === 1 ? "1 differs: fetch it again." : `${grouped(differ)} differ: fetch them again.`) : "",
      missing && whole < all ? `${grouped(missing)} not among what you dropped.` : "",
      before.whole ? `${grouped(before.whole)} of ${grouped(before.all)} files of the package before are as they were.` : "",
      before.differ
        ? `${grouped(before.differ)} of the package before ${before.differ === 1 ? "is" : "are"} not as it should be: fetch that again.`
        : "",
      strange ? `${grouped(strange)} of what you dropped not of this package.` : "",
    ]
      .filter(Boolean)
      .join(" ");
  state.dataset.ended = "yes";
  if (!problem)
    fetch(`${at}?handler=Checked`, {
      method: "POST",
      headers: { "X-Request-Token": token() },
      body: new URLSearchParams({ whole, differ }),
    });
}
check.querySelector("input").addEventListener("change", e => hold(chosen(e.target.files)));
for (const label of document.querySelectorAll("label[tabindex]"))
  label.addEventListener("keydown", e => {
    if (e.key === "Enter" || e.key === " ") {
      e.preventDefault();
      label.querySelector("input").click();
    }
  });
window.addEventListener("dragover", e => e.preventDefault());
window.addEventListener("drop", async e => {
  e.preventDefault();
  const files = await dropped(e.dataTransfer);
  if (e.target.closest?.("#arrived")) compare(files);
  else hold(files);
});

// Sending back: resumable, one file after the other.
const underWay = document.getElementById("under-way");
document.querySelector("#back input").addEventListener("change", async e => {
  let failed = 0;
  for (const file of e.target.files) failed += (await sent(file)) ? 0 : 1;
  if (!failed) location.reload();
});
function sent(file, { name, of, shown } = {}) {
  const bar = el("progress", { max: 1, value: 0, "aria-label": `Sending ${file.name}` }),
    amount = el("span", { class: "n" }, bytes(file.size)),
    line = el("div", { class: "work-row" }, el("span", {}, file.name), bar, amount);
  (shown ?? underWay).append(line);
  return new Promise(done => {
    const upload = new window.tus.Upload(file, {
      endpoint: `${at}/returns`,
      chunkSize: 8 << 20,
      retryDelays: [0, 1000, 3000, 6000, 12000],
      metadata: { name: name ?? (file.webkitRelativePath || file.name), check: of ?? "" },
      fingerprint: async f => ["back", at, of ?? "", name ?? f.name, f.size, f.lastModified].join("-"),
      removeFingerprintOnSuccess: true,
      onProgress: (here, total) => {
        bar.value = total ? here / total : 1;
        amount.textContent = `${bytes(here)} of ${bytes(total)}`;
      },
      onError: error => {
        const words = refusal(error, "did not arrive; choose it again to go on");
        line.classList.add("flag");
        amount.textContent = words;
        say(`${file.name}: ${words}`);
        done(false);
      },
      onSuccess: () => {
        amount.textContent = "sent";
        done(true);
      },
    });
    upload.findPreviousUploads().then(earlier => {
      if (earlier.length) upload.resumeFromPreviousUpload(earlier[0]);
      upload.start();
    });
  });
}

// What was exported again: sent up, compared behind the page, and told.
const again = document.getElementById("again"),
  againState = document.getElementById("again-state"),
  arrivals = document.getElementById("arrivals");
const post = (handler, body = {}) =>
  fetch(`${at}?handler=${handler}`, {
    method: "POST",
    headers: { "X-Request-Token": token() },
    body: new URLSearchParams(body),
  });
async function compare(files) {
  if (!files.length) return;
  againState.className = "";
  const begun = await post("Arrived"),
    words = await begun.text();
  if (!begun.ok) return refused(words);
  againState.textContent = `Sending ${grouped(files.length)} ${files.length === 1 ? "file" : "files"} …`;
  const lines = again.appendChild(el("div"));
  for (const { name, file } of files)
    if (!(await sent(file, { name, of: words, shown: lines }))) return refused("Not all of it came. Drop it again.");
  lines.remove();
  const answer = await post("Compare", { check: words });
  if (!answer.ok) return refused(await answer.text());
  againState.textContent = "";
  watch();
}
function refused(words) {
  againState.className = "flag";
  againState.textContent = words;
}
async function watch() {
  const answer = await fetch(`${at}?handler=Arrivals`);
  if (!answer.ok) return refused("How far it is did not come. Load the page again.");
  arrivals.innerHTML = await answer.text();
  if (arrivals.firstElementChild?.dataset.going === "yes") setTimeout(watch, 700);
}
again.querySelector("input").addEventListener("change", e => compare(chosen(e.target.files)));
if (arrivals.firstElementChild?.dataset.going === "yes") watch();
