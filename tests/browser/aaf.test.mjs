// AAF files of other software, brought in on the real screens.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { readFileSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { comes, begin, drop, keepsClips, makesRevision, open, passes, root, signIn, waitForRevision } from "./desk.mjs";

const fixtures = join(root, "tests", "fixtures", "aaf"),
  bytes = name => readFileSync(join(fixtures, name));
let context, page, problems;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
});
after(async () => {
  await context.close();
});

test("an AAF with its media inside becomes a session whose files from zero pass", async () => {
  const transfer = await begin(page, "Inside");
  await drop(page, [["embedded-wave.aaf", bytes("embedded-wave.aaf")]]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#items").innerText(), /2 tracks, 2 clips[\s\S]*2 inside it/);
  await comes(() => page.locator("#items").innerText(), /harp\.wav[\s\S]*media, inside the document/);
  await comes(() => page.locator(".facts").innerText(), /10:00:00:00/);
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#chart[data-ready]");
  const survey = await (await page.request.get(`${transfer}/survey.json`)).json(),
    expected = JSON.parse(bytes("embedded-wave.json"));
  assert.deepEqual(
    survey.tracks.map(t => t.name),
    expected.tracks.map(t => t.name),
  );
  assert.deepEqual(
    survey.tracks.flatMap(t => t.clips.map(c => [c[3], c[4], c[5]])),
    expected.tracks.flatMap(t => t.clips.map(c => [c.start, c.length, c.sourceOffset])),
  );
  await passes(page, transfer);
});

test("a linked AAF says what is missing, and finds it when its folder is dropped", async () => {
  const transfer = await begin(page, "Linked");
  await drop(page, [["in/crossfades.aaf", bytes("crossfades.aaf")]]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#missing").innerText(), /narrator-01\.wav/);
  await drop(page, [["in/narrator-01.wav", bytes("narrator-01.wav")]]);
  await waitForRevision(page, 2);
  await comes(() => page.locator("#missing").count(), 0);
  await passes(page, transfer);
});

test("a linked AAF with cryptic media names: links, choice, pairs, an embedded AAF whose proof passes", async () => {
  const transfer = await begin(page, "Cryptic");
  const found = join(fixtures, "missing-media-found");
  await drop(page, [
    ["in/missing-media.aaf", bytes("missing-media.aaf")],
    ...readdirSync(found).map(f => [`in/${f}`, readFileSync(join(found, f))]),
  ]);
  await waitForRevision(page, 1);
  // Four by their cryptic names; one was renamed by hand, and only its length speaks for it.
  for (const name of ["A0419B7C", "A0419B7D", "A0419B7E", "A0419B7F"])
    await comes(() => page.locator("#items").innerText(), new RegExp(`${name}\\.wav[^]*?media, found by name`));
  const doubt = page.locator('#links tr[data-wanted="Bass drum.wav"]');
  await comes(() => doubt.innerText(), /renamed-by-hand\.wav[^]*length, rate and channels/);
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/links.png` });
  await makesRevision(page, () => doubt.locator("button").click());
  await page.waitForSelector("#chosen-links");
  await comes(() => page.locator("#chosen-links").innerText(), /Bass drum\.wav is in\/renamed-by-hand\.wav/);
  const missing = await page.locator("#missing").innerText();
  for (const name of ["No locator.wav", "Schön & alt.wav", "Broken escape.wav"]) assert.ok(missing.includes(name), name);
  await comes(() => page.locator("#missing li").count(), 3);

  // Clips stay clips, inside the file.
  await keepsClips(page, transfer);
  await comes(() => page.locator("#clip-notes").innerText(), /No locator\.wav is missing/);
  await page.goto(`${transfer}/build`);
  await comes(() => page.locator("#planned").innerText(), /\.aaf/);
  await comes(() => page.locator("#carry thead").innerText(), /AAF/);
  // Nobody is told that clips without sound arrived, unless each medium was accepted by its name.
  await comes(() => page.locator("#gap-words").innerText(), /8 clips, 3 without sound/);
  for (const name of ["No locator.wav", "Schön & alt.wav", "Broken escape.wav"])
    await makesRevision(page, () => page.getByRole("button", { name: `Accept missing ${name}` }).click());
  await passes(page, transfer);
  await comes(() => page.locator("#verdict").innerText(), /All 5 clips[^]*Accepted: 8 clips, 3 without sound\./);
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/proof-clips.png` });
});

test("split pairs are found and joined, handles are counted, and the AAF beside its media passes", async () => {
  const transfer = await begin(page, "Pairs");
  const media = readdirSync(fixtures).filter(f => /^(Hall pair|Array|Test pair).*\.wav$/.test(f));
  await drop(page, [["in/pairs.aaf", bytes("pairs.aaf")], ...media.map(f => [`in/${f}`, bytes(f)])]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#pairs").innerText(), /Hall pair_L \+ Hall pair_R/);
  await comes(() => page.locator("#pairs").innerText(), /channels 1, 2, 3, 4 of one file/);
  await comes(() => page.locator("#pairs").innerText(), /mono inside/);
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/pairs.png` });
  await makesRevision(page, () => page.click('button[data-join="Hall pair"]'));
  await makesRevision(page, () => page.locator("#pairs tr", { hasText: "Array 1" }).locator("button").click());
  const survey = await (await page.request.get(`${transfer}/survey.json`)).json();
  assert.deepEqual(survey.tracks.map(t => [t.name, t.channels]).slice(0, 2), [
    ["Hall pair", 2],
    ["Array", 4],
  ]);

  await keepsClips(page, transfer);
  await makesRevision(page, () => page.selectOption("select[name='clips.media']", "beside, WAVE"));
  await makesRevision(page, () => page.selectOption("select[name='clips.monoOnly']", "false"));
  await makesRevision(page, () => page.selectOption("select[name='clips.trimmed']", "true"));
  await makesRevision(page, async () => {
    await page.fill("input[name='clips.handle']", "60000");
    await page.press("input[name='clips.handle']", "Tab");
  });
  await comes(() => page.locator("#shortfalls").innerText(), /shorter than 2\s?880\s?000 samples/);
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/build-clips.png` });
  await page.goto(`${transfer}/build`);
  await comes(
    () => page.locator("#planned tr", { hasText: /\.wav/ }).count(),
    n => n > 2,
  );
  await passes(page, transfer);

  // What was joined can be taken apart again.
  await page.goto(`${transfer}/intake`);
  await makesRevision(page, () => page.click("#undo-channels"));
  await comes(() => page.locator("#pairs").innerText(), /channels 1, 2, 3, 4 of one file/);
});

test("of several compositions the engineer chooses", async () => {
  const transfer = await begin(page, "Several"),
    expected = JSON.parse(bytes("odd-but-legal.json"));
  await drop(page, [["odd.aaf", bytes("odd-but-legal.aaf")]]);
  await waitForRevision(page, 1);
  const other = expected.otherCompositions[0];
  await makesRevision(page, () => page.selectOption("#compositions select", other));
  await comes(() => page.locator("#compositions").innerText(), /2 compositions/);
  const survey = await (await page.request.get(`${transfer}/survey.json`)).json();
  assert.notDeepEqual(
    survey.tracks.map(t => t.clips.map(c => [c[3], c[4]])),
    expected.tracks.map(t => t.clips.map(c => [c.start, c.length])),
  );
});

test("what is not an AAF, and what is lost in frame units, is said", async () => {
  await begin(page, "Odd");
  await drop(page, [
    ["cut.aaf", bytes("nested.aaf").subarray(0, 9000)],
    ["frames.aaf", bytes("frame-units.aaf")],
  ]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("#items").innerText(), /cut\.aaf[\s\S]*(damaged or was cut short|not a compound file)/);
  await comes(() => page.locator("#items").innerText(), /whole units of 1920 samples/);
});

test("no script broke and nothing was blocked on the way", () => assert.deepEqual(problems, []));
