// Each kind of files in its own way: rate, depth, range and formats, chosen in one table, listed, built and proved.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { comes, HANGS, begin, drop, makesRevision, open, passes, revision, root, signIn, waitForRevision } from "./desk.mjs";

const bytes = name => readFileSync(join(root, "tests", "fixtures", name));
const look = async name => {
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/${name}.png` });
};
let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "Kinds");
  await drop(page, [
    ["in/crossfades.aaf", bytes("aaf/crossfades.aaf")],
    ["in/narrator-01.wav", bytes("aaf/narrator-01.wav")],
  ]);
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

const choose = (name, value) => makesRevision(page, () => page.selectOption(`select[name='${name}']`, value));
const spaced = text => text.replaceAll("\u202f", " ");

test("one rate is chosen for all files, and others for single kinds", async () => {
  await page.goto(`${transfer}/prepare`);
  await choose("files.deliveredRate", "44100");
  await page.click("#kinds-of > summary");
  await comes(
    () => page.locator("#kinds .moves").innerText().then(spaced),
    /At 44100 Hz places go to the nearest sample: by at most 0\.\d+ samples/,
  );
  for (const box of ["mix.stems", "mix.finished"]) await makesRevision(page, () => page.check(`#mix input[type=checkbox][name='${box}']`));
  await choose("kinds.stems.rate", "96000");
  await choose("kinds.stems.container", "flac");
  await choose("kinds.stems.also", "wav");
  await comes(() => page.locator("#kinds-of").getAttribute("open"), "");
  await comes(() => page.locator("#kinds tr[data-kind='finished mix']").innerText().then(spaced), /1 file, 0:\d\d\.\d{3}/);
  await look("kinds");

  // What a format does not hold is refused, and stays as it was.
  await page.selectOption("select[name='kinds.stems.encoding']", "float 32");
  await page.waitForFunction(() => /FLAC holds no float/.test(document.getElementById("notice")?.innerText ?? ""));
  problems.splice(0);
  await page.reload();
  await comes(() => page.locator("select[name='kinds.stems.encoding']").inputValue(), "usual");
});

test("the list says each, and all of it is proved", async () => {
  await page.goto(`${transfer}/build`);
  const planned = spaced(await page.locator("#planned").innerText());
  assert.match(planned, /stems\/[^]*01_\S+\.flac\s+stem of 1 track · stereo · 96 000 Hz · 24 bit/);
  assert.match(planned, /01_\S+\.wav\s+the same sound · stereo · 96 000 Hz · 24 bit/);
  assert.match(planned, /finished_mix\.wav\s+mix of everything that sounds here, through the master · stereo · 44 100 Hz · 16 bit/);
  await passes(page, transfer);
  for (const words of ["Converted prints", "same sound as"]) {
    await page.fill("#find", words);
    await page.waitForFunction(w => document.getElementById("rows").innerText.includes(w), words);
  }
});

test("a track goes in two forms, one of them muted beneath under a name of its own", async () => {
  await page.goto(`${transfer}/prepare`);
  const row = page.locator("#rows tr[data-track]").first();
  await makesRevision(page, () => row.locator("select[name=beneath]").selectOption({ label: "keep clips" }));
  const beneath = page.locator("#rows tr[data-of]");
  await comes(() => beneath.innerText(), /keep clips[^]*muted beneath: Narrator sounds as print dry/);
  const name = beneath.locator("input");
  await makesRevision(page, async () => {
    await name.fill("Narrator edit");
    await name.press("Tab");
  });
  await makesRevision(page, () => row.locator("select[name=treatment]").selectOption({ label: "print at its level" }));
  await comes(() => beneath.innerText(), /Narrator sounds as print at its level/);
  await look("forms");
  await page.goto(`${transfer}/build`);
  await comes(() => page.locator("#planned").innerText(), /_beneath\.aaf/);
  await comes(() => page.locator(".plan").innerText(), /0 lost without a word/);
  await passes(page, transfer);
});

test("what is proposed has a reason, and one press takes all of it", async () => {
  await page.goto(`${transfer}/prepare`);
  await page.click("#proposed > summary");
  await comes(() => page.locator("#proposed").innerText(), /guide mix\s+Everything in it can sound here[^]*click\s+Whoever plays to it/);
  await look("proposed");
  await makesRevision(page, () => page.click("#take-proposed"));
  await comes(() => page.locator("#proposed").count(), 0);
  await comes(() => page.isChecked("#mix input[type=checkbox][name='mix.guide']"), true);
});

test("the smallest set is said output by output, and taken in one press", async () => {
  await page.goto(`${transfer}/prepare`);
  await page.click("#fewest-of > summary");
  await page.waitForSelector("#fewest-table");
  const told = async output => spaced(await page.locator(`#fewest-table tr[data-output='${output}']`).innerText());
  assert.match(await told("AAF"), /in it\s+goes/);
  assert.match(await told("MIDI"), /only here: tempo/);
  assert.match(await told("OTIO"), /–\s+–[^]*adds nothing/);
  await look("fewest");
  await makesRevision(page, () => page.click("#take-fewest"));
  await page.waitForSelector("#is-fewest");
  const sets = await page
    .locator("#fewest-table tr[data-output]")
    .evaluateAll(rows => rows.map(row => [row.cells[0].innerText, row.cells[1].innerText, row.cells[2].innerText]));
  for (const [output, needed, goes] of sets.filter(([name]) => !name.startsWith("record")))
    assert.equal(needed === "in it", goes === "goes", output);

  // Build writes just these.
  await page.goto(`${transfer}/build`);
  const columns = (await page.locator("#carry th").allInnerTexts()).slice(1, -1);
  assert.deepEqual(
    columns,
    [...sets.filter(([, , goes]) => goes === "goes").map(([name]) => name), "record"].filter(name => !/alone/.test(name)),
  );
  await passes(page, transfer);
});

test("the archive of everything opens in a new transfer as it was, and nowhere else", async () => {
  await page.goto(`${transfer}/handover`);
  const link = page.locator("#archive a");
  await comes(() => page.locator("#archive").innerText(), /2 files as they came, \d+ revisions/);
  await look("archive");
  const zip = await (await page.request.get(new URL(await link.getAttribute("href"), page.url()).href)).body();
  await page.goto(`${transfer}/revisions`);
  const told = await page.locator("main").innerText();
  const before = await revision(page);
  await page.goto(`${transfer}/intake`);
  await drop(page, [["Kinds_archive.zip", zip]]);
  await page.waitForFunction(() => /has a session already/.test(document.body.innerText), null, { timeout: HANGS });
  assert.equal(await revision(page), before);
  const opened = await begin(page, "Kinds again");
  await drop(page, [["Kinds_archive.zip", zip]]);
  await waitForRevision(page, before);
  await page.goto(`${opened}/revisions`);
  assert.equal(await revision(page), before);
  await comes(() => page.locator("main").innerText(), told);
  await passes(page, opened);
  assert.deepEqual(problems, []);
});
