// The receiver's side: how long his page takes, how fast the whole package comes, and that every part of it is the same whatever is asked for first: node bench/receive.mjs [files] [minutes]
// Needs a running application (./lyrotrans start) and tests/browser/node_modules. A downloading client that does nothing else; the disk is measured by reading the same bytes from a file.
import { createHash } from "node:crypto";
import { closeSync, createReadStream, mkdtempSync, openSync, rmSync, writeSync } from "node:fs";
import { get } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { address, begin, open, passes, signIn } from "../tests/browser/desk.mjs";
import { bring, measured } from "./noise.mjs";

const count = Number(process.argv[2] ?? 48), seconds = Number(process.argv[3] ?? 3) * 60, pages = 20, parts = 200;
const fetched = (url, headers, take) => new Promise((done, fail) => get(url, { headers }, answer => {
  let bytes = 0;
  answer.on("data", piece => { bytes += piece.length; take?.(piece); });
  answer.on("end", () => done({ status: answer.statusCode, bytes, length: Number(answer.headers["content-length"]) }));
  answer.on("error", fail);
}).on("error", fail));
const timed = async work => { const from = performance.now(); await work(); return (performance.now() - from) / 1000; };

const sender = await open();
await signIn(sender.page);
const here = await begin(sender.page, `Sent, ${count} files`);
await bring(sender.page, here, count, seconds);
await measured(sender.page, here);
await passes(sender.page, here);
await sender.page.goto(`${here}/handover`);
await sender.page.click("#make-link");
await sender.page.waitForSelector("#offered");
const link = address + new URL(await sender.page.inputValue("#link")).pathname;
await sender.context.close();

const times = [];
for (let i = 0; i < pages; i++) times.push(await timed(() => fetched(link, {})));
const receiver = await open();
const shown = await timed(() => receiver.page.goto(link, { waitUntil: "load" }));
await receiver.context.close();

const folder = mkdtempSync(join(tmpdir(), "lyro-bench-")), copy = join(folder, "package.zip"), hash = createHash("sha256");
let file = openSync(copy, "w"), all;
const whole = await timed(async () => { all = await fetched(`${link}/package`, {}, piece => { writeSync(file, piece); }); });
closeSync(file);
const disk = await timed(async () => { for await (const piece of createReadStream(copy, { highWaterMark: 1 << 20 })) hash.update(piece); });

// Resumed anywhere: parts at random places, in any order, and the last byte.
let wrong = 0;
const waits = [];
for (let i = 0; i <= parts; i++) {
  const from = i === parts ? all.bytes - 1 : Math.floor(Math.random() * all.bytes), to = Math.min(all.bytes - 1, from + Math.floor(Math.random() * 300000)), pieces = [], there = [];
  waits.push(await timed(async () => { if ((await fetched(`${link}/package`, { Range: `bytes=${from}-${to}` }, p => pieces.push(p))).status !== 206) wrong++; }));
  for await (const piece of createReadStream(copy, { start: from, end: to })) there.push(piece);
  if (!Buffer.concat(pieces).equals(Buffer.concat(there))) wrong++;
}
const sorted = list => [...list].sort((a, b) => a - b), ms = s => `${(s * 1000).toFixed(0)} ms`;
console.log(`page of a package of ${count} files: ${ms(sorted(times)[pages / 2])} (longest ${ms(Math.max(...times))}), in a browser with pictures under way ${ms(shown)}`);
console.log(`package of ${(all.bytes / 1e9).toFixed(2)} GB: ${(all.bytes / 1e6 / whole).toFixed(0)} MB/s to a file; reading and hashing that file ${(all.bytes / 1e6 / disk).toFixed(0)} MB/s`);
console.log(`${parts + 1} parts at random places: ${wrong} wrong; half of them within ${ms(sorted(waits)[parts / 2])}, all within ${ms(Math.max(...waits))}`);
rmSync(folder, { recursive: true });
