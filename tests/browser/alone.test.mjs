// One thing of a session taken alone from Survey, by keys: a clip, a range, a part; and what cannot be taken says why.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { comes, address, open, signIn, stage } from "./desk.mjs";

let context, page, problems;
const look = async name => {
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/${name}.png` });
};
before(async () => {
  ({ context, page, problems } = await open());
  await page.goto(`${address}/sign-in`);
  await signIn(page);
  await page.goto(await stage(page, "Orrery Suite", "survey"));
  await page.waitForSelector("#chart[data-ready]");
});
after(async () => {
  assert.deepEqual(problems, []);
  await context.close();
});

const press = async (...keys) => {
  for (const key of keys) await page.keyboard.press(key);
};
/** What a last key brings down. */
async function brought(key) {
  const waits = page.waitForEvent("download");
  await page.keyboard.press(key);
  const file = await waits;
  await page.waitForFunction(() => /: proved$/.test(document.querySelector("#alone p").textContent));
  return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
}
const to = name =>
  page.evaluate(n => {
    const { desk } = document.getElementById("chart");
    desk.select({ track: desk.survey.tracks.findIndex(t => t.name === n), clip: -1 });
  }, name);

test("a clip is three keys from a file: its own samples, with tempo and key in the name", async () => {
  await to("Piano");
  await press("]", "t");
  await comes(() => page.locator("#alone").innerText(), /this clip, whole/);
  await look("alone");
  const { name, bytes } = await brought("r");
  assert.match(name, /^piano.*_92bpm_Dm\.wav$/i);
  assert.equal(bytes.toString("latin1", 0, 4), "RIFF");
  const clip = await page.evaluate(() => {
    const { chart } = document.getElementById("chart").desk;
    return { length: chart.survey.tracks[chart.selected.track].clips[chart.selected.clip][4] };
  });
  const data = bytes.indexOf("data", 0, "latin1");
  assert.equal(bytes.readUInt32LE(data + 4), clip.length * 2 * 3);
});

test("a range is set at the position, drawn, and taken of a track as a print", async () => {
  await to("Cello");
  await page.evaluate(() => document.activeElement.blur());
  const place = async sample => {
    await page.fill("#position input >> nth=0", String(sample));
    await page.keyboard.press("Enter");
    await page.waitForFunction(at => document.getElementById("chart").chart.at === at, sample);
    await page.evaluate(() => document.activeElement.blur());
  };
  await place(96_000);
  await press(",");
  await place(120_000);
  await press(".");
  await comes(() => page.locator("#alone").innerText(), /from 96.000 to 120.000 samples/);
  await look("alone-range");
  await press("t");
  const { name, bytes } = await brought("p");
  assert.match(name, /^Cello.*\.wav$/);
  assert.equal(bytes.readUInt32LE(bytes.indexOf("data", 0, "latin1") + 4), 24_000 * 3);

  // The wrong way round there is no range, and x takes it away.
  await page.evaluate(() => document.activeElement.blur());
  await place(50_000);
  await press(".");
  await comes(() => page.locator("#alone").innerText(), /this track, whole/);
  await press("x");
});

test("a part goes as notes, and as a bundle of notes, print and facts", async () => {
  await to("Celesta");
  await press("]", "t");
  await comes(() => page.locator("#alone").innerText(), /the part /);
  const notes = await brought("n");
  assert.match(notes.name, /^Celesta.*\.mid$/);
  assert.equal(notes.bytes.toString("latin1", 0, 4), "MThd");
  const bundle = await brought("b");
  assert.match(bundle.name, /\.zip$/);
  assert.match(bundle.bytes.toString("latin1"), /Session_sheet\.html/);
});

test("what has nothing there says so, and the master goes nowhere alone", async () => {
  const answer = await page.request.get(`${page.url().replace(/\/survey.*/, "")}/one?track=cello&start=10&end=5&as=printed`);
  assert.equal(answer.status(), 400);
  assert.match(await answer.text(), /ends before it begins/);
  assert.equal((await page.request.get(`${page.url().replace(/\/survey.*/, "")}/one?track=cello&as=anything`)).status(), 404);
  await to("Master");
  await comes(() => page.locator("#alone").count(), 0);
});

test("what goes names the buses and returns that it is heard through", async () => {
  await page.goto(await stage(page, "Orrery Suite", "prepare"));
  await comes(() => page.locator("#needs").innerText(), /^Through Strings, Long hall, Echo wall and Master, of \d+ files$/);
  await look("needs");
});
