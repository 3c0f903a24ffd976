// Intake: files, folders and zips go up resumably, each with its own progress, as one batch that becomes one revision.
import { keys, transfer } from "./desk.js";
import { chosen, dropped, refusal } from "./dropped.js";
import { Pace } from "./pace.js";
import "./marks.js";
import { bytes, el, grouped, lasting, say, token } from "./words.js";

const underWay = document.getElementById("under-way");
const files = document.getElementById("files"),
  folder = document.getElementById("folder");
files.addEventListener("change", () => take(chosen(files.files)));
folder.addEventListener("change", () => take(chosen(folder.files)));
for (const label of document.querySelectorAll(".drop .button"))
  label.addEventListener("keydown", e => {
    if (e.key === "Enter" || e.key === " ") {
      e.preventDefault();
      label.querySelector("input").click();
    }
  });

let depth = 0;
window.addEventListener("dragenter", e => {
  e.preventDefault();
  depth++;
  document.body.classList.add("dropping");
});
window.addEventListener("dragleave", () => {
  if (--depth <= 0) document.body.classList.remove("dropping");
});
window.addEventListener("dragover", e => e.preventDefault());
window.addEventListener("drop", async e => {
  e.preventDefault();
  depth = 0;
  document.body.classList.remove("dropping");
  take(await dropped(e.dataTransfer));
});

// A stem is of several tracks, all else of one.
const role = document.getElementById("role");
function ofOneOrMany() {
  const many = role.elements.kind.value === "Stem";
  role.elements.of.multiple = many;
  role.elements.of.size = many ? Math.min(6, role.elements.of.options.length) : 1;
}
role?.elements.kind.addEventListener("change", ofOneOrMany);
if (role) ofOneOrMany();

const post = path => fetch(path, { method: "POST", headers: { "X-Request-Token": token() } });

// Drops whose files go up from this page now, and whether it has shown work.
let goingUp = 0,
  wasBusy = false;

async function take(list) {
  goingUp++;
  try {
    await sendAll(list);
  } finally {
    goingUp--;
    showNewest();
  }
}

async function sendAll(list) {
  list = list.filter(i => !/(^|\/)(\._|\.DS_Store$|Thumbs\.db$)/.test(i.name));
  if (!list.length) return;
  const answer = await post(`/transfers/${transfer}/batches`);
  if (!answer.ok) {
    say("The files cannot be taken now; load the page again.");
    return;
  }
  const batch = (await answer.json()).id;
  const all = together(list);
  const rows = list.map(item => row(item));
  let failed = 0,
    next = 0;
  await Promise.all(
    [1, 2, 3].map(async () => {
      while (next < list.length) {
        const i = next++;
        if (await send(list[i], rows[i], batch, all)) continue;
        failed++;
        all.leave(list[i]);
      }
    }),
  );
  all.line.remove();
  // Nothing arrived whole: what broke off stays where it is and goes on when it is dropped again; what was stopped is not kept.
  if (rows.every(r => r.stopped)) await post(`/batches/${batch}/stop`);
  if (failed === list.length) return;
  const finish = await post(`/batches/${batch}/finish`);
  if (!finish.ok) say((await finish.json()).detail ?? "The files did not all arrive; drop them again to go on.");
  else {
    if (!failed) underWay.replaceChildren();
    watch();
  }
}

/** One bar for all files of a drop: how much of all of them is here, and how long the rest takes when that is known. */
function together(list) {
  const bar = el("progress", { max: 1, value: 0, "aria-label": "Upload of all files" }),
    here = el("span", { class: "soft" }),
    time = el("span", { class: "n" }),
    stop = el("button", { type: "button" }, "Stop all"),
    name = el("span", {}, el("b", {}, list.length === 1 ? "1 file" : `${grouped(list.length)} files`), " ", here);
  const line = el("div", { class: "work-row", id: "all-files" }, name, bar, time, stop);
  stop.addEventListener("click", () => underWay.querySelectorAll("button.one:not([hidden])").forEach(b => b.click()));
  const pace = new Pace(),
    sent = new Map(list.map(item => [item, 0]));
  const show = () => {
    const total = [...sent.keys()].reduce((sum, item) => sum + item.file.size, 0),
      done = [...sent.values()].reduce((sum, size) => sum + size, 0);
    pace.note(done, performance.now());
    const left = pace.secondsTo(total);
    bar.value = total ? done / total : 1;
    here.textContent = `${bytes(done)} of ${bytes(total)}`;
    time.textContent = left === null ? "" : `${lasting(left)} to go`;
  };
  underWay.append(line);
  show();
  return {
    line,
    note(item, size) {
      sent.set(item, size);
      show();
    },
    leave(item) {
      sent.delete(item);
      show();
    },
  };
}

function row(item) {
  const bar = el("progress", { max: 1, value: 0, "aria-label": `Upload of ${item.name}` }),
    amount = el("span", { class: "n" }, bytes(item.file.size)),
    stop = el("button", { type: "button", class: "one" }, "Stop"),
    name = el("span", { title: item.name }, item.name);
  const line = el("div", { class: "work-row" }, name, bar, amount, stop);
  underWay.append(line);
  const shown = { line, bar, amount, stop, left: false, stopped: false };
  // Of a file whose turn has not come, too.
  stop.addEventListener("click", () => {
    shown.stopped = true;
    leave(shown, `${item.name}: stopped`);
    shown.abort?.();
  });
  return shown;
}

/** Says why a file does not come. */
function leave(shown, text) {
  if (shown.left) return;
  shown.left = true;
  shown.line.className = "work-row flag";
  shown.line.textContent = text;
}

function send(item, shown, batch, all) {
  if (shown.left) return false;
  return new Promise(done => {
    const fail = text => {
      leave(shown, text);
      done(false);
    };
    const upload = new window.tus.Upload(item.file, {
      endpoint: "/uploads",
      retryDelays: [0, 500, 1500, 4000, 8000],
      chunkSize: 32 << 20,
      storeFingerprintForResuming: true,
      removeFingerprintOnSuccess: true,
      metadata: { name: item.name, batch },
      onProgress: (sent, total) => {
        shown.bar.value = total ? sent / total : 1;
        shown.amount.textContent = `${Math.floor((sent / Math.max(1, total)) * 100)} %`;
        all.note(item, sent);
      },
      onError: error => {
        fail(refusal(error, `${item.name} could not be sent: ${error.message}`));
      },
      onSuccess: () => {
        shown.bar.value = 1;
        shown.amount.textContent = "here";
        shown.stop.hidden = true;
        all.note(item, item.file.size);
        done(true);
      },
      onShouldRetry: error => {
        const status = error.originalResponse?.getStatus() ?? 0;
        return status === 0 || status === 409 || status === 423 || status === 460 || (status >= 500 && status !== 507);
      },
    });
    shown.abort = () => {
      upload.abort(true).catch(() => {});
      done(false);
    };
    // A file that broke off earlier goes on where it stopped.
    upload.findPreviousUploads().then(earlier => {
      const same = earlier.find(e => e.metadata?.batch === batch);
      if (same) upload.resumeFromPreviousUpload(same);
      if (!shown.left) upload.start();
    });
  });
}

/** Asks for the batches, which go on asking for themselves while any is at work. */
const watch = () => window.htmx.ajax("GET", "?handler=Batches", { target: "#batches", swap: "outerHTML" });
/**
 * Where the page shows another revision than the one in force, or work has ended that it showed, it is loaded anew, but never
 * while files go up from it. While sound is measured the session stands there already.
 */
function showNewest() {
  const { busy, revision } = document.getElementById("batches").dataset,
    other = revision !== document.body.dataset.revision;
  if ((other || (wasBusy && busy === "no")) && !goingUp) return location.reload();
  wasBusy ||= busy === "yes";
  document.body.dataset.settled = busy === "no" ? "yes" : "no";
}
document.addEventListener("htmx:afterSettle", showNewest);
showNewest();

document.addEventListener("htmx:responseError", () => setTimeout(() => location.reload(), 5000));
let seen = -1;
keys({
  a: () => files.click(),
  m: () => {
    const bad = [...document.querySelectorAll("#items tr.bad, #missing li")];
    if (bad.length) {
      seen = (seen + 1) % bad.length;
      bad[seen].scrollIntoView({ block: "center" });
      bad[seen].tabIndex = -1;
      bad[seen].focus();
    }
  },
});
