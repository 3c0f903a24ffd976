// OMF and OTIO files, brought in and sent out on the real screens.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { copyFileSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { comes, begin, drop, files, keepsClips, makesRevision, open, passes, root, signIn, waitForRevision, work } from "./desk.mjs";

const fixtures = join(root, "tests", "fixtures"),
  bytes = name => readFileSync(join(fixtures, name));
const lyro = (...args) => spawnSync(join(root, "lyro"), args, { encoding: "utf8" });
let context, page, problems;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
});
after(async () => {
  await context.close();
});

/** An OMF of split pairs whose locators are what a system called the files, and not what people do. */
function cryptic(folder) {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  for (const name of readdirSync(join(fixtures, "aaf")).filter(f => /^(pairs\.aaf|(Hall pair|Array|Test pair).*\.wav)$/.test(f)))
    copyFileSync(join(fixtures, "aaf", name), join(folder, name));
  writeFileSync(join(folder, "sheet.json"), '{"clips":{"file":"OMF","media":"beside, WAVE"}}');
  const made = lyro("convert", join(folder, "pairs.aaf"), join(folder, "out", "pairs.omf"), "--receiver", join(folder, "sheet.json"));
  assert.equal(made.status, 0, made.stderr);
  const omf = join(folder, "out", "pairs.omf"),
    media = join(folder, "out", "media");
  let text = readFileSync(omf, "latin1");
  readdirSync(media)
    .sort()
    .forEach((name, i) => {
      const path = `media\\${name}`,
        code = `A04${17 + i}.wav`,
        other = `${"D:\\Audio files of the other room\\".slice(0, path.length - code.length - 1)}\\${code}`;
      assert.equal(other.length, path.length);
      assert.ok(text.includes(path), path);
      text = text.replaceAll(path, other);
      renameSync(join(media, name), join(media, code));
    });
  writeFileSync(omf, text, "latin1");
  return join(folder, "out");
}

function wave(frames) {
  const file = Buffer.alloc(44 + frames * 2);
  file.write("RIFF", 0);
  file.writeUInt32LE(36 + frames * 2, 4);
  file.write("WAVEfmt ", 8);
  file.writeUInt32LE(16, 16);
  file.writeUInt16LE(1, 20);
  file.writeUInt16LE(1, 22);
  file.writeUInt32LE(48000, 24);
  file.writeUInt32LE(96000, 28);
  file.writeUInt16LE(2, 32);
  file.writeUInt16LE(16, 34);
  file.write("data", 36);
  file.writeUInt32LE(frames * 2, 40);
  return file;
}

test("an OMF of the first version with AIFF inside becomes a session whose files from zero pass", async () => {
  const transfer = await begin(page, "Old");
  await drop(page, [["v1-big-aiff.omf", bytes("omf/v1-big-aiff.omf")]]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#items").innerText(), /2 tracks, 3 clips[\s\S]*2 inside it/);
  await comes(() => page.locator("#items").innerText(), /cello\.wav[\s\S]*media, inside the document/);
  const survey = await (await page.request.get(`${transfer}/survey.json`)).json(),
    expected = JSON.parse(bytes("omf/v1-big-aiff.json"));
  assert.deepEqual(
    survey.tracks.flatMap(t => t.clips.map(c => [c[3], c[4], c[5]])),
    expected.tracks.flatMap(t => t.clips.map(c => [c.start, c.length, c.sourceOffset])),
  );
  await passes(page, transfer);
});

test("an OMF with cryptic linked names: bound, its pairs joined, and files from zero of it pass", async () => {
  const folder = cryptic(join(work, "cryptic-omf"));
  const transfer = await begin(page, "Cryptic OMF");
  await drop(page, files(folder), folder);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#items").innerText(), /A0417\.wav[^]*?media, found by name/);
  await comes(() => page.locator("#missing").count(), 0);
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/omf-intake.png` });
  await makesRevision(page, () => page.click('button[data-join="Hall pair"]'));
  const survey = await (await page.request.get(`${transfer}/survey.json`)).json();
  assert.deepEqual([survey.tracks[0].name, survey.tracks[0].channels], ["Hall pair", 2]);
  await passes(page, transfer);
});

test("OMF and OTIO go out by their choices, and both pass", async () => {
  const transfer = await begin(page, "Out");
  await drop(page, [
    ["in/crossfades.aaf", bytes("aaf/crossfades.aaf")],
    ["in/narrator-01.wav", bytes("aaf/narrator-01.wav")],
  ]);
  await waitForRevision(page, 1);
  await keepsClips(page, transfer);
  await makesRevision(page, () => page.selectOption("#clip-file", "OMF"));
  assert.deepEqual(await page.locator("select[name='clips.media'] option").evaluateAll(o => o.map(e => e.value)), [
    "inside, WAVE",
    "inside, AIFF",
    "beside, WAVE",
    "beside, AIFF",
  ]);
  await makesRevision(page, () => page.selectOption("select[name='clips.depth']", "integer 16"));
  await makesRevision(page, () => page.selectOption("select[name='options.overLimit']", "split by tracks"));
  await comes(() => page.locator("#clip-notes").innerText(), /Crossfades that are not straight/);
  await page.goto(`${transfer}/build`);
  await comes(() => page.locator("#planned").innerText(), /\.omf/);
  await comes(() => page.locator("#carry thead").innerText(), /OMF/);
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/omf-build.png`, fullPage: true });
  await passes(page, transfer);
  await page.goto(`${transfer}/prepare`);
  await makesRevision(page, () => page.selectOption("#clip-file", "OTIO"));
  await comes(() => page.locator("select[name='options.overLimit']").count(), 0);
  assert.deepEqual(await page.locator("select[name='clips.media'] option").evaluateAll(o => o.map(e => e.value)), [
    "beside, WAVE",
    "beside, AIFF",
  ]);
  await page.goto(`${transfer}/build`);
  await comes(() => page.locator("#planned").innerText(), /\.otio/);
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/otio-build.png`, fullPage: true });
  await passes(page, transfer);
});

test("an OTIO with a missing medium says so, and takes what is found", async () => {
  const transfer = await begin(page, "Timeline");
  await drop(page, [
    ["linked.otio", bytes("otio/linked.otio")],
    ["horn-close.wav", wave(240000)],
  ]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#items").innerText(), /Transitions do not say their curve/);
  await comes(() => page.locator("#missing").innerText(), /narrator-01\.wav/);
  const survey = await (await page.request.get(`${transfer}/survey.json`)).json();
  assert.deepEqual(
    survey.tracks.map(t => t.name),
    ["Horn close", "Narrator"],
  );
  assert.deepEqual(
    survey.tracks[0].clips.map(c => [c[3], c[4], c[5]]),
    [[48001, 100003, 24007]],
  );
});

test("what is cut short is refused by name and place", async () => {
  await begin(page, "Odd OMF");
  await drop(page, [
    ["cut.omf", bytes("omf/v2-linked.omf").subarray(0, 12000)],
    ["cut.otio", bytes("otio/frames.otio").subarray(0, 900)],
  ]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#items").innerText(), /cut\.omf[^]*its content is not that/);
  await comes(() => page.locator("#items").innerText(), /cut\.otio[^]*not whole JSON/);
});

test("no script broke and nothing was blocked on the way", () => assert.deepEqual(problems, []));
