// A folder as a person drops it: two exports of one session, notes, prints, a mix, a click and what is of no use,
// to a package in which nothing sounds twice.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { comes, HANGS, begin, demoFiles, drop, files, makesRevision, open, passes, revision, signIn, waitForRevision } from "./desk.mjs";
import { readFileSync } from "node:fs";
import { basename, join } from "node:path";

let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "As it was dropped");
  await drop(page, files(join(demoFiles(), "dropped")), demoFiles());
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

const row = name => page.locator(`#roles tr[data-proposal="${name}"], #roles tr[data-role="${name}"]`);

test("what is of no use is one line that opens, and no error", async () => {
  await comes(() => page.locator("#items tr.bad").count(), 0);
  const left = page.locator("#left-out");
  await comes(() => left.locator("summary").innerText(), /Left out: 18 files of no use here/);
  await comes(() => left.locator("li").first().isVisible(), false);
  await left.locator("summary").click();
  await comes(() => left.innerText(), /hall\.preset[^]*read me\.txt/);

  // A session could be read, so nobody needs to be told how to export one.
  await comes(() => page.locator("#unknown-document").count(), 0);
});

test("files are marked by range, placed in one step, and back in one", async () => {
  const places = () => page.locator("#items tr:not([hidden]) td:nth-child(5)").allInnerTexts();
  await page.fill("#filter", "print");
  await comes(() => page.locator("#shown").innerText(), /2 of 19/);
  await comes(() => page.locator("#marked").isVisible(), false);
  const boxes = page.locator("#items tr:not([hidden]) input[type=checkbox]");
  await boxes.first().click();
  await boxes.last().click({ modifiers: ["Shift"] });
  await comes(() => page.locator("#marked-count").innerText(), "2");
  await page.selectOption("#marked select[name=rule]", "Offset");
  await page.fill("#marked input[name=text]", "3.1.0");
  const before = Number(await page.locator("#revision").innerText());
  await makesRevision(page, () => page.click("#marked button[value=place]"));
  await page.fill("#filter", "print");
  const [celesta, harp] = (await places()).map(t => Number(t.replace(/\D/g, "")));
  assert.ok(celesta > 31304 && celesta === harp, `${celesta} ${harp}`);
  await page.locator("#filter").blur();
  await makesRevision(page, () => page.keyboard.press("u"));
  await comes(() => revision(page), before);
  await page.fill("#filter", "print");
  assert.deepEqual(await places(), ["0", "0"]);
});

test("the corrected export takes the place of the first in one press, and it is said what changed", async () => {
  await makesRevision(page, () => page.locator("#documents button", { hasText: "take Orrery_Suite_corrected.aaf" }).click());
  await comes(() => page.locator("#documents").count(), 0);
  assert.doesNotMatch(await page.locator("#items").innerText(), /Orrery_Suite\.aaf/);
  await page.goto(transfer + "/intake");
  const words = await page.locator("#revisions, #history").allInnerTexts();
  assert.match(words.join(" ") + (await page.content()), /Orrery_Suite_corrected\.aaf instead of Orrery_Suite\.aaf; changed: Timpani/);
});

test("prints, mix and click are known by their names and lengths, taken in one press, and taken back in one", async () => {
  await comes(() => page.locator("#roles").innerText(), /4 files may be more than a track, 4 are sure/);
  await comes(() => row("Celesta print.wav").innerText(), /print\?\s+Celesta/);
  await page.waitForFunction(() => !document.getElementById("roles").innerText.includes("being measured"));
  await comes(() => row("click 92.wav").innerText(), /\d+ onsets, off by [\d –−to]+ samples/);
  await makesRevision(page, () => page.click("#take-roles"));
  for (const [name, words] of [
    ["Celesta print.wav", /print\s+Celesta/],
    ["Harp print.wav", /print\s+Harp/],
    ["Orrery mix v7.wav", /guide mix\s+all/],
    ["click 92.wav", /click\s+the grid/],
  ])
    await comes(() => row(name).innerText(), words);
  await page.waitForFunction(() => !document.getElementById("roles").innerText.includes("being measured"));
  await comes(() => row("Orrery mix v7.wav").innerText(), /correlation 0\.[89]\d, on its sample/);
  await makesRevision(page, () => row("click 92.wav").getByRole("button", { name: "undo" }).click());
  await comes(() => row("click 92.wav").innerText(), /click\?/);
  await makesRevision(page, () => row("click 92.wav").getByRole("button", { name: "it is" }).click());
});

test("a file that begins at its first sound is found in the mix, and placed there in one press", async () => {
  await comes(() => page.locator("#lost").innerText(), /1 file has no time stamp and may begin anywhere[^]*look for it in Orrery mix v7/);
  await page.click("#look");
  const found = page.locator('tr[data-found="Voice cut.wav"]');
  await found.waitFor({ timeout: HANGS });
  await makesRevision(page, () => page.click("#take-found"));
  await comes(() => page.locator("#lost").count(), 0);
  await page.fill("#filter", "voice");
  await comes(() => page.locator("#items tr:not([hidden])").last().innerText(), /by its sound/);
});

test("a print goes in its track's place, and its own row says what it stands for", async () => {
  await page.goto(`${transfer}/prepare`);
  const celesta = page.locator('#rows tr[data-name="Celesta"]');
  await comes(() => celesta.innerText(), /by its print .*Celesta print/);
  await comes(() => celesta.locator("select[name=treatment] option:checked").innerText(), "notes and print");
  await comes(() => page.locator("#rows").innerText(), /print of Celesta[^]*guide mix/);
  await comes(() => page.locator("#mix input[type=checkbox][name='mix.guide']").isChecked(), true);
  await page.goto(`${transfer}/build`);
  const planned = await comes(() => page.locator("#planned").innerText(), /Celesta\.wav[^]*guide_mix\.wav/);
  assert.doesNotMatch(planned, /stand-in/);
  await comes(() => page.locator(".plan").innerText(), /0 lost without a word/);
});

test("the package passes its proof, and nothing but rounding is left of the mix that came along", async () => {
  await passes(page, transfer);
  await page.waitForSelector("#guide-words:not(:empty)");
  await comes(() => page.locator("#guide-words").innerText(), /everything in it is here, once/);
});

test("with a print taken back its notes sound twice no more than once, and the guide says that something is otherwise", async () => {
  await page.goto(`${transfer}/intake`);
  await makesRevision(page, () => row("Harp print.wav").getByRole("button", { name: "undo" }).click());
  await page.goto(`${transfer}/build`);
  await makesRevision(page, () => page.getByRole("button", { name: "Accept instrument Harp" }).click()).catch(() => {});
  await passes(page, transfer);
  await page.waitForSelector("#guide-words:not(:empty)");
  await comes(() => page.locator("#guide-words").innerText(), /something in it is not here, is here twice, or sounds otherwise/);
});

test("a source is removed, and what is missing then is said", async () => {
  await page.goto(`${transfer}/intake`);
  await makesRevision(page, () => page.getByRole("button", { name: /Remove .*Orrery_Suite\.mid/ }).click());
  await comes(() => page.locator(".tools").first().innerText(), /Celesta print\.wav cannot be the print of Celesta any more/);
});

test("a mix under a name that says nothing is known by its sound", async () => {
  await begin(page, "As it is heard");
  const dropped = files(join(demoFiles(), "dropped"));
  await drop(
    page,
    dropped.map(f => [basename(f) === "Orrery mix v7.wav" ? "audio 7.wav" : basename(f), readFileSync(f)]),
  );
  await waitForRevision(page, 2);
  await comes(() => row("audio 7.wav").innerText(), /guide mix\?\s+all[^]*sound, length/);
});

test("no script broke and nothing was blocked on the way", () => assert.deepEqual(problems, []));
