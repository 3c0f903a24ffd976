// Random faults against a running application: processes are killed and the database goes away while something is brought in or built;
// then it is looked at whether everything ended, nothing was lost, and the next work can begin. node faults.mjs COUNT [SEED [OUTAGE]]:
// with the last the database goes away each time, for so many seconds.
import { createHash } from "node:crypto";
import { execFileSync } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { address, open, root, signIn, stage } from "./desk.mjs";

const count = Number(process.argv[2]),
  seed = Number(process.argv[3] ?? Date.now() % 1e6),
  outage = Number(process.argv[4] ?? 0),
  data = process.env.LYRO_DATA,
  tus = { "Tus-Resumable": "1.0.0" };
const patience = 120000 + outage * 1000;

/** Numbers from 0 to 1 that a seed makes again. */
let state = seed;
function random() {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return state / 2 ** 32;
}
const any = list => list[Math.floor(random() * list.length)],
  pause = time => new Promise(done => setTimeout(done, time));

const { context, page } = await open();
await signIn(page);
const suite = (await stage(page, "Orrery Suite", "build")).replace(/\/build$/, "");

/** Asks until an answer comes: the application may be away. */
async function ask(act) {
  for (const since = Date.now(); ; await pause(200)) {
    try {
      const answer = await act();
      if (answer.status() < 500) return answer;
    } catch {
      // It is away.
    }
    if (Date.now() - since > patience) throw new Error("no answer for two minutes");
  }
}
const token = async () => /name="request-token" content="([^"]+)"/.exec(await (await ask(() => page.request.get(address))).text())[1];
const post = async (path, form, headers = {}) => {
  const held = await token();
  return ask(() => page.request.post(path, { form, headers: { "X-Request-Token": held, ...headers } }));
};

/** A second of noise as a WAVE file, other than all before. */
function wave() {
  const frames = 48000,
    body = Buffer.alloc(44 + frames * 2);
  body.write("RIFF", 0);
  body.writeUInt32LE(36 + frames * 2, 4);
  body.write("WAVEfmt ", 8);
  for (const [value, at, wide] of [
    [16, 16, 4],
    [1, 20, 2],
    [1, 22, 2],
    [48000, 24, 4],
    [96000, 28, 4],
    [2, 32, 2],
    [16, 34, 2],
  ])
    body.writeUIntLE(value, at, wide);
  body.write("data", 36);
  body.writeUInt32LE(frames * 2, 40);
  for (let i = 44; i < body.length; i++) body[i] = Math.floor(random() * 256);
  return body;
}

async function upload(batch, name, bytes) {
  const metadata = `name ${Buffer.from(name).toString("base64")},batch ${Buffer.from(batch).toString("base64")}`;
  const created = await ask(() =>
    page.request.post(`${address}/uploads`, { headers: { ...tus, "Upload-Length": `${bytes.length}`, "Upload-Metadata": metadata } }),
  );
  const url = address + created.headers().location;
  for (;;) {
    const offset = Number((await ask(() => page.request.fetch(url, { method: "HEAD", headers: tus }))).headers()["upload-offset"]);
    if (offset === bytes.length) return;
    const headers = { ...tus, "Upload-Offset": `${offset}`, "Content-Type": "application/offset+octet-stream" };
    await ask(() => page.request.fetch(url, { method: "PATCH", headers, data: bytes.subarray(offset) }));
  }
}

const tasks = {
  async "bring in"() {
    const begun = await post(address, { Name: `Faults ${seed}` }, {});
    const transfer = begun.url().replace(/\/intake$/, "");
    const files = Array.from({ length: 5 }, (_, i) => [`take-${i}.wav`, wave()]);
    const drop = async () => {
      const batch = (await (await post(`${transfer}/batches`)).json()).id;
      for (const [name, bytes] of files) await upload(batch, name, bytes);
      const finished = await post(`${address}/batches/${batch}/finish`);
      if (!finished.ok()) throw new Error(`the batch was not taken: ${finished.status()} ${await finished.text()}`);
    };
    const ended = async () => {
      let shown;
      await until(async () => /data-busy="no"/.test((shown = await text(`${transfer}/intake?handler=Batches`))), "the intake");
      return /data-code="([^"]+)"/.exec(shown)?.[1];
    };
    const dropping = drop();
    dropping.catch(() => {});
    return async () => {
      await dropping;
      // What failed in words can be begun again, and then it is all there.
      const code = await ended();
      if (code) {
        await drop();
        await ended();
      }
      const survey = JSON.parse(await text(`${transfer}/survey.json`));
      const there = new Set(survey.media.filter(m => !m.missing).map(m => m.sha));
      for (const [name, bytes] of files)
        if (!there.has(createHash("sha256").update(bytes).digest("hex"))) throw new Error(`${name} is lost`);
      return code ? `ended in words (${code}), dropped again, all in` : "all in";
    };
  },
  async build() {
    const from = /name="from" value="(\d+)"/.exec(await text(`${suite}/build`))[1];
    const begun = post(`${suite}/build?handler=Build`, { from });
    begun.catch(() => {});
    return async () => {
      if (!(await begun).ok()) throw new Error(`the build was not begun: ${(await begun).status()}`);
      let shown;
      await until(async () => /data-state="(Done|Failed|Stopped)"/.test((shown = await text(`${suite}/build?handler=State`))), "the build");
      const ended = /data-state="(\w+)"/.exec(shown)[1];
      if (ended === "Stopped") throw new Error("the build was stopped by nobody");
      if (ended === "Done" && !/passed/.test(await text(`${suite}/proof`))) throw new Error("the proof did not pass");
      return ended === "Done" ? "built and proved" : "ended in words";
    };
  },
};
const text = async path => (await ask(() => page.request.get(path))).text();
async function until(holds, what) {
  for (const since = Date.now(); !(await holds()); await pause(250)) if (Date.now() - since > patience) throw new Error(`${what} is stuck`);
}

const kill = name => {
  const file = join(data, `${name}.pid`);
  if (existsSync(file))
    try {
      process.kill(Number(readFileSync(file, "utf8")), "SIGKILL");
    } catch {
      // It is gone already.
    }
};
function endDatabase() {
  const here = join(data, "cluster", "postmaster.pid");
  if (!existsSync(here)) throw new Error("the database lies elsewhere");
  process.kill(Number(readFileSync(here, "utf8").split("\n")[0]), "SIGQUIT");
}
const faults = {
  "kill -9 of the pages": () => kill("web"),
  "kill -9 of a worker": () => kill(any(["worker-1", "worker-2"])),
  "kill -9 of everything": () => ["web", "worker-1", "worker-2"].forEach(kill),
  "database away": endDatabase,
};
const recover = () => execFileSync(join(root, "lyrotrans"), ["start", "--workers", "2"], { stdio: "ignore" });

console.log(`seed ${seed}`);
let wrong = 0;
for (let i = 1; i <= count; i++) {
  const [task, drawn] = [any(Object.keys(tasks)), any(Object.keys(faults))],
    [after, short] = [random() ** 2 * 4000, 300 + random() ** 3 * 45000];
  const [fault, away] = outage ? ["database away", outage * 1000] : [drawn, short];
  const said = `${i}: ${task}, ${fault} after ${Math.round(after)} ms for ${Math.round(away)} ms`;
  const began = Date.now();
  try {
    const ends = await tasks[task]();
    await pause(after);
    faults[fault]();
    await pause(away);
    recover();
    console.log(`${said}: ${await ends()}, ${((Date.now() - began - after - away) / 1000).toFixed(1)} s`);
  } catch (problem) {
    wrong++;
    console.log(`${said}: WRONG, ${problem.message}`);
    recover();
  }
}
console.log(`${count} faults, ${wrong} wrong`);
await context.close();
process.exit(wrong ? 1 : 0);
