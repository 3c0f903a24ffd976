// AAF files of other software, brought in on the real screens.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { begin, drop, open, root, signIn, waitForRevision } from "./desk.mjs";

const fixtures = join(root, "..", "shared", "fixtures", "aaf"), bytes = name => readFileSync(join(fixtures, name));
let context, page, problems;
before(async () => { ({ context, page, problems } = await open()); await signIn(page); });
after(async () => { await context.close(); });

async function passes(transfer) {
  await page.goto(`${transfer}/build`);
  await page.click("#build");
  await page.waitForSelector('#state[data-state="Done"]', { timeout: 60000 });
  await page.goto(`${transfer}/proof`);
  assert.equal(await page.locator("#verdict").getAttribute("data-passed"), "yes");
}

test("an AAF with its media inside becomes a session whose files from zero pass", async () => {
  const transfer = await begin(page, "Inside");
  await drop(page, [["embedded-wave.aaf", bytes("embedded-wave.aaf")]]);
  await waitForRevision(page, 1);
  const items = await page.locator("#items").innerText();
  assert.match(items, /2 tracks, 2 clips[\s\S]*2 inside it/);
  assert.match(items, /harp\.wav[\s\S]*media, found by name/);
  assert.match(await page.locator(".facts").innerText(), /10:00:00:00/);
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#chart[data-ready]");
  const survey = await (await page.request.get(`${transfer}/survey.json`)).json(), expected = JSON.parse(bytes("embedded-wave.json"));
  assert.deepEqual(survey.tracks.map(t => t.name), expected.tracks.map(t => t.name));
  assert.deepEqual(survey.tracks.flatMap(t => t.clips.map(c => [c[3], c[4], c[5]])), expected.tracks.flatMap(t => t.clips.map(c => [c.start, c.length, c.sourceOffset])));
  await passes(transfer);
});

test("a linked AAF says what is missing, and finds it when its folder is dropped", async () => {
  const transfer = await begin(page, "Linked");
  await drop(page, [["in/crossfades.aaf", bytes("crossfades.aaf")]]);
  await waitForRevision(page, 1);
  assert.match(await page.locator("#missing").innerText(), /narrator-01\.wav/);
  await drop(page, [["in/narrator-01.wav", bytes("narrator-01.wav")]]);
  await waitForRevision(page, 2);
  assert.equal(await page.locator("#missing").count(), 0);
  await passes(transfer);
});

test("what is not an AAF, and what is lost in frame units, is said", async () => {
  await begin(page, "Odd");
  await drop(page, [["cut.aaf", bytes("nested.aaf").subarray(0, 9000)], ["frames.aaf", bytes("frame-units.aaf")]]);
  await waitForRevision(page, 1);
  const items = await page.locator("#items").innerText();
  assert.match(items, /cut\.aaf[\s\S]*(damaged or was cut short|not a compound file)/);
  assert.match(items, /whole units of 1920 samples/);
});

test("no script broke and nothing was blocked on the way", () => assert.deepEqual(problems, []));
