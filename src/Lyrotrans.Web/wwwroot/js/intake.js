// Intake: files, folders and zips go up resumably, each with its own progress, as one batch that becomes one revision.
import { keys, transfer } from "./desk.js";
import { bytes, el, say } from "./words.js";

const underWay = document.getElementById("under-way");
const files = document.getElementById("files"),
  folder = document.getElementById("folder");
files.addEventListener("change", () => take([...files.files].map(f => ({ file: f, name: f.name }))));
folder.addEventListener("change", () => take([...folder.files].map(f => ({ file: f, name: f.webkitRelativePath || f.name }))));
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
  const entries = [...e.dataTransfer.items].map(i => i.webkitGetAsEntry?.()).filter(Boolean);
  take(entries.length ? (await Promise.all(entries.map(walk))).flat() : [...e.dataTransfer.files].map(f => ({ file: f, name: f.name })));
});

async function walk(entry, path = "") {
  if (entry.isFile) return [{ file: await new Promise((good, bad) => entry.file(good, bad)), name: path + entry.name }];
  const reader = entry.createReader(),
    inside = [];
  for (;;) {
    const some = await new Promise((good, bad) => reader.readEntries(good, bad));
    if (!some.length) break;
    inside.push(...some);
  }
  return (await Promise.all(inside.map(e => walk(e, `${path}${entry.name}/`)))).flat();
}

async function take(list) {
  list = list.filter(i => !/(^|\/)(\._|\.DS_Store$|Thumbs\.db$)/.test(i.name));
  if (!list.length) return;
  const answer = await fetch(`/transfers/${transfer}/batches`, { method: "POST" });
  if (!answer.ok) {
    say("The files cannot be taken now; load the page again.");
    return;
  }
  const batch = (await answer.json()).id;
  const rows = list.map(item => row(item));
  let failed = 0,
    next = 0;
  await Promise.all(
    [1, 2, 3].map(async () => {
      while (next < list.length) {
        const i = next++;
        if (!(await send(list[i], rows[i], batch))) failed++;
      }
    }),
  );
  // Nothing arrived whole: what broke off stays where it is and goes on when it is dropped again.
  if (failed === list.length) return;
  const finish = await fetch(`/batches/${batch}/finish`, { method: "POST" });
  if (!finish.ok) say((await finish.json()).detail ?? "The files did not all arrive; drop them again to go on.");
  else {
    if (!failed) underWay.replaceChildren();
    watch();
  }
}

function row(item) {
  const bar = el("progress", { max: 1, value: 0, "aria-label": `Upload of ${item.name}` }),
    amount = el("span", { class: "n" }, bytes(item.file.size)),
    stop = el("button", { type: "button" }, "Stop"),
    name = el("span", { title: item.name }, item.name);
  const line = el("div", { class: "work-row" }, name, bar, amount, stop);
  underWay.append(line);
  return { line, bar, amount, stop, name };
}

function send(item, shown, batch) {
  return new Promise(done => {
    const started = performance.now();
    const fail = text => {
      shown.line.className = "work-row flag";
      shown.line.textContent = text;
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
        const left = (((performance.now() - started) / Math.max(1, sent)) * (total - sent)) / 1000;
        shown.amount.textContent = `${Math.round((sent / Math.max(1, total)) * 100)} %, ${Math.max(0, Math.round(left))} s to go`;
      },
      onError: error => {
        const body = error.originalResponse?.getBody();
        let text = `${item.name} could not be sent: ${error.message}`;
        try {
          text = JSON.parse(body).detail;
        } catch {
          /* no words from the server */
        }
        fail(text);
      },
      onSuccess: () => {
        shown.bar.value = 1;
        shown.amount.textContent = "here";
        shown.stop.hidden = true;
        done(true);
      },
      onShouldRetry: error => {
        const status = error.originalResponse?.getStatus() ?? 0;
        return status === 0 || status === 409 || status === 423 || status === 460 || (status >= 500 && status !== 507);
      },
    });
    shown.stop.addEventListener("click", () => {
      upload.abort(true).catch(() => {});
      fail(`${item.name}: stopped`);
    });
    // A file that broke off earlier goes on where it stopped.
    upload.findPreviousUploads().then(earlier => {
      const same = earlier.find(e => e.metadata?.batch === batch);
      if (same) upload.resumeFromPreviousUpload(same);
      upload.start();
    });
  });
}

/** Asks for the batches, which go on asking for themselves while any is at work. */
const watch = () => window.htmx.ajax("GET", "?handler=Batches", { target: "#batches", swap: "outerHTML" });
/** Where the page shows another revision than the one in force and nothing is at work, it is loaded anew. */
function showNewest() {
  const { busy, revision } = document.getElementById("batches").dataset;
  if (busy === "no" && revision !== document.body.dataset.revision) location.reload();
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
