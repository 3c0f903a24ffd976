// How fast the survey is with many clips, measured in the browser: node bench/survey.mjs [clips]
// Needs a running application (./lyrotrans start) and tests/browser/node_modules.
import { address, open, signIn } from "../tests/browser/desk.mjs";

const count = Number(process.argv[2] ?? 20000), tracks = 200, media = 20, rate = 48000, length = 24000;
const waveOf = pitch => {
const wave = Buffer.alloc(44 + rate * 60 * 2);
wave.write("RIFF", 0); wave.writeUInt32LE(wave.length - 8, 4); wave.write("WAVEfmt ", 8); wave.writeUInt32LE(16, 16); wave.writeUInt16LE(1, 20); wave.writeUInt16LE(1, 22);
wave.writeUInt32LE(rate, 24); wave.writeUInt32LE(rate * 2, 28); wave.writeUInt16LE(2, 32); wave.writeUInt16LE(16, 34); wave.write("data", 36); wave.writeUInt32LE(rate * 120, 40);
for (let i = 0; i < rate * 60; i++) wave.writeInt16LE(Math.round(Math.sin(i / (20 + pitch)) * Math.sin(i / (9000 + 400 * pitch)) * 20000), 44 + i * 2);
return wave;
};
const perTrack = Math.ceil(count / tracks);
const session = {
  lyrotransSession: 1, name: "Many clips", rate: "48000", depth: "integer 16", frameRate: "25", start: "10:00:00:00", bar1: 0,
  tempo: [{ quarter: "0", quartersPerMinute: "92" }], meters: [{ bar: 1, beats: 4, beatUnit: 4 }],
  media: Array.from({ length: media }, (_, m) => ({ id: `m${m}`, fileName: `m${m}.wav`, rate: "48000", encoding: "integer 16", channels: 1, length: rate * 60, place: "beside" })),
  tracks: Array.from({ length: tracks }, (_, t) => ({ id: `t${t}`, name: `Track ${t + 1}`, kind: "audio", channels: 1, lanes: [{ name: "main", clips: Array.from({ length: perTrack }, (_, i) => ({
    id: `c${t}-${i}`, name: `clip ${i}`, media: `m${t % media}`, channelMap: [0], start: i * (length + 1200), length, sourceOffset: (i * 7919 + t * 104729) % (rate * 58), fadeIn: { length: 480, shape: "equal power" }, fadeOut: { length: 960, shape: "linear" } })) }] })),
};
const { context, page } = await open();
await signIn(page);
await page.fill("input[name=Name]", `Many clips ${count}`);
await page.click("button.main");
await page.waitForURL(/intake$/);
const here = page.url();
const token = await page.evaluate(async () => (await import("/js/words.js")).token());
const signed = { "X-Request-Token": token };
const batch = (await (await page.request.post(here.replace(/intake$/, "batches"), { headers: signed })).json()).id;
for (const [name, body] of [["many.session.json", Buffer.from(JSON.stringify(session))], ...Array.from({ length: media }, (_, m) => [`m${m}.wav`, waveOf(m)])]) {
  const made = await page.request.post(`${address}/uploads`, { headers: { ...signed, "Tus-Resumable": "1.0.0", "Upload-Length": String(body.length), "Upload-Metadata": `name ${Buffer.from(name).toString("base64")},batch ${Buffer.from(batch).toString("base64")}` } });
  await page.request.fetch(address + made.headers().location, { method: "PATCH", headers: { ...signed, "Tus-Resumable": "1.0.0", "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream" }, data: body });
}
await page.request.post(`${address}/batches/${batch}/finish`, { headers: signed });
let started = Date.now();
for (;;) { await page.goto(here); if (await page.locator("#revision").innerText() === "1" && await page.evaluate(() => document.body.dataset.settled === "yes")) break; await page.waitForTimeout(200); }
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
  // Frames as they come: the chart is moved on each, and what the browser manages in three seconds is counted. Peaks are there before.
  const frames = await page.evaluate(async perPixel => {
    const chart = document.getElementById("chart").chart;
    if (perPixel) { chart.perPixel = perPixel; chart.from = 5e6; } else chart.whole();
    chart.draw(); await new Promise(r => setTimeout(r, 2500));
    const times = [], paints = [], began = performance.now();
    let last = began, way = 1;
    while (performance.now() - began < 3000) {
      await new Promise(requestAnimationFrame);
      const now = performance.now(); times.push(now - last); last = now;
      way = Math.floor((now - began) / 750) % 2 ? -1 : 1;
      chart.from += way * chart.perPixel * 9; chart.scroll += way * 3; chart.perPixel *= way > 0 ? 0.999 : 1 / 0.999; chart.limits();
      const t = performance.now(); chart.paint(); paints.push(performance.now() - t);
    }
    times.sort((a, b) => a - b); paints.sort((a, b) => a - b);
    const drawn = chart.peaks.levels.size;
    return { second: times.length / 3, late: times[Math.floor(times.length * 0.98)], paint: paints[paints.length >> 1], drawn };
  }, perPixel);
  console.log(`${what}: ${frames.second.toFixed(0)} frames a second, 98 of 100 within ${frames.late.toFixed(0)} ms; painting takes ${frames.paint.toFixed(1)} ms; ${frames.drawn} levels of peaks are there`);
}
await context.close();
