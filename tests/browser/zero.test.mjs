// Files from zero and a click, with nothing that says a tempo: the click gives the map, the files become clips,
// and sound is taken out of a film.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { comes, address, begin, demoFiles, drop, makesRevision, open, passes, root, signIn, waitForRevision } from "./desk.mjs";

const HZ = 48000,
  SECONDS = 24;

/** A mono file of 16 bits, of a function of the sample. */
function wave(sound) {
  const frames = HZ * SECONDS,
    bytes = Buffer.alloc(44 + frames * 2);
  bytes.write("RIFF", 0);
  bytes.writeUInt32LE(36 + frames * 2, 4);
  bytes.write("WAVEfmt ", 8);
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(HZ, 24);
  bytes.writeUInt32LE(HZ * 2, 28);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write("data", 36);
  bytes.writeUInt32LE(frames * 2, 40);
  for (let i = 0; i < frames; i++) bytes.writeInt16LE(Math.round(32767 * sound(i)), 44 + i * 2);
  return bytes;
}

// 96 quarters a minute in 3/4: a beat is 30 000 samples. One bar of count-in, then the voice, twice, with silence between.
const BEAT = 30000;
const click = i => {
  const [beat, into] = [Math.floor(i / BEAT), i % BEAT];
  return into < 900 ? 0.5 * Math.cos((2 * Math.PI * (beat % 3 ? 900 : 1800) * into) / HZ) * (1 - into / 900) : 0;
};
const voice = i => ((i >= 3 * BEAT && i < 9 * BEAT) || (i >= 15 * BEAT && i < 21 * BEAT) ? 0.3 * Math.sin(i / 30) : 0);

let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "From zero");
  await drop(page, [
    ["Voice.wav", wave(voice)],
    ["click.wav", wave(click)],
  ]);
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

test("that no source says a tempo is a flag, and the click among the files gives it", async () => {
  await comes(() => page.locator("#maps h2").innerText(), /No source says a tempo: bars are counted at 120 in 4\/4/);
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#flags");
  await comes(() => page.locator("#flags").innerText(), /No source says a tempo/);

  await page.goto(`${transfer}/intake`);
  await comes(() => page.locator("#click-tempo select[name=track] option").first().innerText(), "click");
  await page.click("#read-click");
  const says = page.locator("#click-says");
  await says.waitFor();
  await comes(() => says.innerText(), /96 quarters a minute throughout/);
  await comes(() => says.innerText(), /3\/4 from bar 1, by higher clicks/);
  await comes(() => says.innerText(), /at sample 90\s000, after 1 bar of count-in; each click is a quarter/);
  await comes(() => says.innerText(), /39 clicks, 0 samples off/);
  await makesRevision(page, () => page.click("#take-click"));
  await comes(() => page.locator("#maps h2").innerText(), /A map made here is in force/);
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#flags");
  assert.doesNotMatch(await page.locator("#flags").innerText(), /No source says a tempo/);
  await page.goto(`${transfer}/intake`);
});

test("music is told from a click, in words", async () => {
  await page.locator("#click-tempo select[name=track]").selectOption({ label: "Voice" });
  await page.click("#read-click");
  await page.waitForSelector("#no-click");
  await comes(() => page.locator("#no-click").innerText(), /Voice is no click/);
});

test("a file from zero becomes clips at its silences, shown before, and whole again in one press", async () => {
  await page.locator("#cut select[name=track]").selectOption({ label: "Voice" });
  await page.locator("#cut input[name=threshold]").fill("");
  for (const name of ["before", "after", "fade"]) await page.locator(`#cut input[name=${name}]`).fill("0");
  await page.click("#show-cuts");
  const row = page.locator('tr[data-cut="Voice"]');
  await row.waitFor();
  await comes(() => row.innerText(), /2\s+31\.3\s+nothing but zeros/);
  await comes(() => row.locator("svg rect.kept").count(), 2);

  await page.locator("#cut input[name=threshold]").fill("quiet");
  await page.click("#show-cuts");
  await page.waitForFunction(() => /Type a threshold below 0 dBFS/.test(document.getElementById("notice")?.innerText ?? ""));
  await page.locator("#cut input[name=threshold]").fill("");
  await page.click("#show-cuts");
  await page.waitForFunction(() => document.querySelectorAll("tr[data-cut]").length === 1);
  await makesRevision(page, () => page.click("#take-cuts"));
  await comes(() => page.locator("#cut-tracks").innerText(), /Voice/);
  await makesRevision(page, () => page.locator("#cut-tracks button").first().click());
  await comes(() => page.locator("#cut-tracks").count(), 0);
  await page.locator("h2").first().click();
  await makesRevision(page, () => page.keyboard.press("u"));
  await comes(() => page.locator("#cut-tracks").innerText(), /Voice/);

  // Two of the voice and one of the click.
  await comes(() => page.locator("header.facts").innerText(), /clips\s+3/);
});

test("what came so goes out as clips, and the proof passes", async () => {
  await passes(page, transfer);
});

test("a file of many microphones shows its channels by name, and each goes to one track", async () => {
  await begin(page, "Six microphones");
  await drop(page, [["Six microphones.wav", readFileSync(join(demoFiles(), "loose", "Six microphones.wav"))]]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#items").innerText(), /6 channels \(Bells near, Bells far, Lantern, Hall left, Hall right, Door\)/);
  const grid = page.locator("details.channels");
  await grid.locator("summary").click();
  await comes(() => grid.locator("input[type=radio]:checked").count(), 6);
  await grid.locator('input[name="to.4"][value="3"]').check();
  await grid.locator("input[name=name]").nth(3).fill("");
  const refused = page.waitForResponse(r => r.url().includes("handler=Channels") && r.status() === 400);
  await grid.locator("button").click();
  assert.match(await (await refused).text(), /Every track needs a name/);
  await grid.locator("input[name=name]").nth(3).fill("Hall");
  await makesRevision(page, () => grid.locator("button").click());
  await comes(() => page.locator("header.facts").innerText(), /tracks\s+5/);
  assert.match(
    await page
      .locator("#split option")
      .allInnerTexts()
      .then(o => o.join()),
    /Hall, 2 channels/,
  );
});

test("two sessions of other tracks lie side by side in one press, and one of them is left out again", async () => {
  await begin(page, "Two of one show");
  const fixture = name => readFileSync(join(root, "tests", "fixtures", "mxf", name));
  await drop(
    page,
    ["tarn-atoms.aaf", "tarn-mov.aaf", "tarn-A01.mxf", "tarn-A02.mxf", "tarn-reel.mov"].map(n => [n, fixture(n)]),
  );
  await waitForRevision(page, 1);
  await comes(() => page.locator("header.facts").innerText(), /tracks\s+[23]/);
  await makesRevision(page, () => page.locator("#documents [data-beside]").click());
  await comes(() => page.locator("header.facts").innerText(), /tracks\s+6/);
  await comes(() => page.locator("#missing li").count(), 0);
  await comes(() => page.locator("#items").innerText(), /beside it, by its start 10:00:00:00/);
  await makesRevision(page, () => page.locator("#documents form[hx-post*=NotBeside] button").click());
  await comes(() => page.locator("#documents [data-beside]").count(), 1);
});

test("sound inside a film is taken out, and the film is the picture", async () => {
  const film = await begin(page, "A film");
  await drop(page, [["tarn-reel.mov", readFileSync(join(root, "tests", "fixtures", "mxf", "tarn-reel.mov"))]]);
  await waitForRevision(page, 1);
  await comes(
    () => page.locator("#items").innerText(),
    /tarn-reel\.mov[^]*a reference picture: [^]*25 frames a second[^]*, 4 channels of sound in 3 streams, taken out/,
  );
  await comes(() => page.locator("#items").innerText(), /tarn-reel\.wav[^]*24 bit, 48\s000 Hz, 4 channels, 96\s000 samples/);
  assert.match(film, new RegExp(`^${address}`));
  await page.goto(`${film}/survey`);
  await page.waitForSelector("canvas[data-ready=yes]");
  const flag = page.locator('#flags li[data-flag="picture-sound"]');
  await comes(() => flag.innerText(), /tarn-reel\.mov has 4 channels of sound/);
  await flag.locator("summary").click();
  await makesRevision(page, () => flag.locator(".deeds").getByRole("button", { name: "accept", exact: true }).click());
  await page.waitForSelector("canvas[data-ready=yes]");
  await comes(() => flag.innerText(), /accepted/);
  assert.deepEqual(
    problems.filter(p => !/400/.test(p)),
    [],
  );
});
