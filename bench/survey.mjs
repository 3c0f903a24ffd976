// How fast the survey is with many clips, measured in the browser: node bench/survey.mjs [clips]
// Needs a running application (./lyrotrans start) and tests/browser/node_modules.
import { address, open, signIn } from "../tests/browser/desk.mjs";

const count = Number(process.argv[2] ?? 20000), tracks = 48, rate = 48000, length = 24000;
const wave = Buffer.alloc(44 + rate * 60 * 2);
wave.write("RIFF", 0); wave.writeUInt32LE(wave.length - 8, 4); wave.write("WAVEfmt ", 8); wave.writeUInt32LE(16, 16); wave.writeUInt16LE(1, 20); wave.writeUInt16LE(1, 22);
wave.writeUInt32LE(rate, 24); wave.writeUInt32LE(rate * 2, 28); wave.writeUInt16LE(2, 32); wave.writeUInt16LE(16, 34); wave.write("data", 36); wave.writeUInt32LE(rate * 120, 40);
for (let i = 0; i < rate * 60; i++) wave.writeInt16LE(Math.round(Math.sin(i / 20) * Math.sin(i / 9000) * 20000), 44 + i * 2);
const perTrack = Math.ceil(count / tracks);
const session = {
  lyrotransSession: 1, name: "Many clips", rate: "48000", depth: "integer 16", frameRate: "25", start: "10:00:00:00", bar1: 0,
  tempo: [{ quarter: "0", quartersPerMinute: "92" }], meters: [{ bar: 1, beats: 4, beatUnit: 4 }],
  media: [{ id: "m", fileName: "m.wav", rate: "48000", encoding: "integer 16", channels: 1, length: rate * 60, place: "beside" }],
  tracks: Array.from({ length: tracks }, (_, t) => ({ id: `t${t}`, name: `Track ${t + 1}`, kind: "audio", channels: 1, lanes: [{ name: "main", clips: Array.from({ length: perTrack }, (_, i) => ({
    id: `c${t}-${i}`, name: `clip ${i}`, media: "m", channelMap: [0], start: i * (length + 1200), length, sourceOffset: (i * 7919 + t * 104729) % (rate * 58), fadeIn: { length: 480, shape: "equal power" }, fadeOut: { length: 960, shape: "linear" } })) }] })),
};
const { context, page } = await open();
await signIn(page);
await page.fill("input[name=Name]", `Many clips ${count}`);
await page.click("button.main");
await page.waitForURL(/intake$/);
const here = page.url();
const batch = (await (await page.request.post(here.replace(/intake$/, "batches"))).json()).id;
for (const [name, body] of [["many.session.json", Buffer.from(JSON.stringify(session))], ["m.wav", wave]]) {
  const made = await page.request.post(`${address}/uploads`, { headers: { "Tus-Resumable": "1.0.0", "Upload-Length": String(body.length), "Upload-Metadata": `name ${Buffer.from(name).toString("base64")},batch ${Buffer.from(batch).toString("base64")}` } });
  await page.request.fetch(address + made.headers().location, { method: "PATCH", headers: { "Tus-Resumable": "1.0.0", "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream" }, data: body });
}
await page.request.post(`${address}/batches/${batch}/finish`);
let started = Date.now();
for (;;) { await page.goto(here); if (await page.locator("#revision").innerText() === "1") break; await page.waitForTimeout(200); }
console.log(`intake of ${perTrack * tracks} clips: ${Date.now() - started} ms`);
for (const name of ["survey", "survey", "prepare", "build"]) {
  started = Date.now();
  await page.goto(here.replace(/intake$/, name));
  if (name === "survey") await page.waitForSelector("#chart[data-ready]");
  console.log(`${name}: ${Date.now() - started} ms`);
}
await page.goto(here.replace(/intake$/, "survey"));
await page.waitForSelector("#chart[data-ready]");
await page.waitForTimeout(1500);
for (const [what, perPixel] of [["whole session", null], ["30 s wide", 1500], ["1 s wide", 50], ["samples", 0.2]]) {
  const frames = await page.evaluate(async perPixel => {
    const chart = document.getElementById("chart").chart;
    if (perPixel) { chart.perPixel = perPixel; chart.from = 5e6; } else chart.whole();
    chart.draw(); await new Promise(r => setTimeout(r, 600));
    const times = [];
    for (let i = 0; i < 60; i++) { const t = performance.now(); chart.from += chart.perPixel * 9; if (i % 10 === 9) chart.perPixel *= 0.97; chart.limits(); chart.paint(); times.push(performance.now() - t); await new Promise(requestAnimationFrame); }
    times.sort((a, b) => a - b);
    return { median: times[30], worst: times[58] };
  }, perPixel);
  console.log(`${what}: a frame is painted in ${frames.median.toFixed(1)} ms (98 % below ${frames.worst.toFixed(1)} ms), ${Math.floor(1000 / frames.median)} a second`);
}
await context.close();
