// How long files take from the last byte sent to the session on the page, and to the end of measuring their sound: node bench/intake.mjs [files] [minutes]
// Needs a running application (./lyrotrans start) and tests/browser/node_modules. Mono files of 24 bits at 48 kHz, noise at full level, which takes longest.
import { randomBytes } from "node:crypto";
import { address, begin, open, signIn } from "../tests/browser/desk.mjs";

const count = Number(process.argv[2] ?? 48), seconds = Number(process.argv[3] ?? 5) * 60, rate = 48000;
function wave() {
  const bytes = Buffer.alloc(44 + rate * seconds * 3);
  randomBytes(bytes.length - 44).copy(bytes, 44);
  bytes.write("RIFF", 0); bytes.writeUInt32LE(bytes.length - 8, 4); bytes.write("WAVEfmt ", 8); bytes.writeUInt32LE(16, 16); bytes.writeUInt16LE(1, 20); bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(rate, 24); bytes.writeUInt32LE(rate * 3, 28); bytes.writeUInt16LE(3, 32); bytes.writeUInt16LE(24, 34); bytes.write("data", 36); bytes.writeUInt32LE(bytes.length - 44, 40);
  return bytes;
}
const { context, page } = await open();
await signIn(page);
const here = await begin(page, `Intake of ${count} files`), tus = { "Tus-Resumable": "1.0.0" };
const batch = (await (await page.request.post(`${here}/batches`, { headers: tus })).json()).id;
let bytes = 0;
for (let i = 0; i < count; i++) {
  const body = wave(), name = Buffer.from(`noise ${i + 1}.wav`).toString("base64");
  const made = await page.request.post(`${address}/uploads`, { headers: { ...tus, "Upload-Length": String(body.length), "Upload-Metadata": `name ${name},batch ${Buffer.from(batch).toString("base64")}` } });
  await page.request.fetch(address + made.headers().location, { method: "PATCH", headers: { ...tus, "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream" }, data: body, timeout: 0 });
  bytes += body.length;
}
const started = Date.now();
await page.request.post(`${address}/batches/${batch}/finish`, { headers: tus });
let shown = 0;
for (;;) {
  const said = await (await page.request.get(`${here}/intake?handler=Batches`)).text();
  if (!shown && /data-revision="1"/.test(said)) shown = Date.now();
  if (shown && /data-busy="no"/.test(said)) break;
  await new Promise(done => setTimeout(done, 50));
}
const ended = Date.now();
console.log(`${count} files, ${(bytes / 1e9).toFixed(2)} GB: the session after ${((shown - started) / 1000).toFixed(1)} s, everything measured after ${((ended - started) / 1000).toFixed(1)} s`);
await context.close();
