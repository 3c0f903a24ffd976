// Mono WAVE files of 24 bits at 48 kHz, noise at full level, brought into a transfer of a running application.
import { randomBytes } from "node:crypto";
import { address } from "../tests/browser/desk.mjs";

const rate = 48000, tus = { "Tus-Resumable": "1.0.0" };
function wave(seconds) {
  const bytes = Buffer.alloc(44 + rate * seconds * 3);
  randomBytes(bytes.length - 44).copy(bytes, 44);
  bytes.write("RIFF", 0); bytes.writeUInt32LE(bytes.length - 8, 4); bytes.write("WAVEfmt ", 8); bytes.writeUInt32LE(16, 16); bytes.writeUInt16LE(1, 20); bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(rate, 24); bytes.writeUInt32LE(rate * 3, 28); bytes.writeUInt16LE(3, 32); bytes.writeUInt16LE(24, 34); bytes.write("data", 36); bytes.writeUInt32LE(bytes.length - 44, 40);
  return bytes;
}
/** Sends files and ends their batch. Returns how many bytes they had, and when the last was sent. */
export async function bring(page, transfer, count, seconds) {
  const batch = (await (await page.request.post(`${transfer}/batches`, { headers: tus })).json()).id;
  let bytes = 0;
  for (let i = 0; i < count; i++) {
    const body = wave(seconds), name = Buffer.from(`noise ${i + 1}.wav`).toString("base64");
    const made = await page.request.post(`${address}/uploads`, { headers: { ...tus, "Upload-Length": String(body.length), "Upload-Metadata": `name ${name},batch ${Buffer.from(batch).toString("base64")}` } });
    await page.request.fetch(address + made.headers().location, { method: "PATCH", headers: { ...tus, "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream" }, data: body, timeout: 0 });
    bytes += body.length;
  }
  const started = Date.now();
  await page.request.post(`${address}/batches/${batch}/finish`, { headers: tus });
  return { bytes, started };
}
/** Asks until a page of the intake says that everything was measured. Returns when the session stood there, and when it ended. */
export async function measured(page, transfer) {
  let shown = 0;
  for (;;) {
    const said = await (await page.request.get(`${transfer}/intake?handler=Batches`)).text();
    if (!shown && /data-revision="1"/.test(said)) shown = Date.now();
    if (shown && /data-busy="no"/.test(said)) return { shown, ended: Date.now() };
    await new Promise(done => setTimeout(done, 50));
  }
}
