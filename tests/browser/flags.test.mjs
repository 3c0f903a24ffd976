// Flags are dealt with: one for each kind with all that has it, mended in a step, accepted, or noted for the receiver,
// and taken back by undo.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { comes, address, begin, demoFiles, drop, files, makesRevision, open, passes, signIn, waitForRevision } from "./desk.mjs";

let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "Flags dealt with");
  await drop(page, files(join(demoFiles(), "session")), demoFiles());
  await waitForRevision(page, 1);
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#flags li");
});
after(async () => {
  await context.close();
});

const SHEET = `import io,sys,zipfile
z=zipfile.ZipFile(io.BytesIO(sys.stdin.buffer.read()))
print(z.read(next(n for n in z.namelist() if n.endswith("Session_sheet.html"))).decode())`;
const flag = code => page.locator(`#flags li[data-flag="${code}"]`);
const count = async () => Number(/(\d+) flags? open/.exec(await page.locator("#flagcount").innerText())?.[1] ?? 0);
/** Does something to a flag; the page shows the next revision then. */
async function deed(code, name, fill) {
  const row = flag(code);
  if ((await row.locator("details").getAttribute("open")) === null) await row.locator("summary").click();
  if (fill !== undefined) await row.locator("input[name=note]").fill(fill);
  await makesRevision(page, () => row.locator(".deeds").getByRole("button", { name, exact: true }).click());
  await page.waitForSelector("#flags li");
}

test("a kind of trouble is one flag, says what it would cost, and opens to all that has it", async () => {
  const codes = await page.locator("#flags li[data-flag]").evaluateAll(all => all.map(li => li.dataset.flag));
  assert.equal(new Set(codes).size, codes.length);
  const all = await page.locator("#flags .objects li").count();
  await comes(count, n => n < all / 3);
  const handles = flag("short-handle");
  await comes(() => handles.innerText(), /\d+ clips have too short a handle[^]*nothing to reach into/);
  await comes(() => handles.locator(".objects").isVisible(), false);
  await handles.locator("summary").click();
  const objects = handles.locator(".objects li");
  assert.equal(String(await objects.count()), /(\d+) clips/.exec(await handles.innerText())[1]);
  await objects.nth(2).locator("button").first().click();
  await page.waitForFunction(() => document.querySelector("#flags .objects li.on") !== null);
  await comes(() => page.locator("#selected h2").innerText(), /clip \d+/);
  await objects
    .nth(2)
    .getByRole("button", { name: /Listen/ })
    .click();
  await page.waitForFunction(() => document.getElementById("listen-track").getAttribute("aria-pressed") === "true");
  await page.keyboard.press("Escape");
});

test("faults of editing and of files are found where they were put, and heard", async () => {
  for (const [code, where] of [
    ["edge-step", /bass-direct 10 on Double bass ends with a jump/],
    ["edit-gap", /4 samples of nothing/],
    ["doubled", /Chimes and Chimes play the same sound/],
    ["dropout", /bass-direct 1 on Double bass has 1 dropout inside/],
    ["digital-click", /cello 1 on Cello has 1 click inside/],
    ["silent-channel", /array\.wav: channel 4 is silent/],
    ["dc-offset", /piano\.wav has a DC offset/],
    ["sections", /Lamps down is a section/],
  ])
    await comes(() => flag(code).locator("summary").innerText(), where);
  await flag("dropout").locator("summary").click();
  await flag("dropout").locator(".objects button").first().click();
  await comes(() => page.locator("#selected h2").innerText(), /Double bass, clip 1/);
  const at = Number((await page.locator("#samples, [name=samples]").first().inputValue()).replace(/\D/g, ""));
  assert.ok(at > 48_000, String(at));
  await deed("dropout", "accept");
  await comes(() => flag("dropout").innerText(), /accepted/);
});

test("a note to a clip and one to a track are kept, and stand where they were said", async () => {
  const noted = async (open, words) => {
    await open();
    await page.locator("#note-text").fill(words);
    await makesRevision(page, () => page.getByRole("button", { name: "keep note" }).click());
    await page.waitForSelector("canvas[data-ready=yes]");
    await open();
    await comes(() => page.locator("#note-text").inputValue(), words);
  };
  const head = page.locator("#heads button", { hasText: "Cello" });
  await noted(() => head.click(), "not comped yet");
  await noted(async () => {
    await head.click();
    await page.keyboard.press("]");
    await page.waitForFunction(() => /clip 1/.test(document.querySelector("#selected h2").textContent));
  }, "placeholder, to be played again");
});

test("a marker is set at the position, moved, renamed and taken away, and what is no place is said", async () => {
  const texts = () => page.evaluate(() => document.getElementById("chart").chart.survey.markers.map(m => `${m.text} ${m.at}`));
  const change = async (name, fields) => {
    for (const [field, value] of Object.entries(fields)) await page.locator(`#selected [name=${field}]`).fill(value);
    await makesRevision(page, () => page.locator("#selected").getByRole("button", { name, exact: true }).click());
    await page.waitForSelector("canvas[data-ready=yes]");
  };
  const select = text =>
    page.evaluate(t => {
      const { chart } = document.getElementById("chart");
      document.getElementById("chart").desk.select({ marker: chart.survey.markers.find(m => m.text === t) });
    }, text);
  await page.locator("#new-marker").click();
  await change("set marker", { text: "Second moon", place: "96000" });
  assert.ok((await texts()).includes("Second moon 96000"));
  await select("Second moon");
  await change("change", { text: "Third moon", place: "97 000", length: "4 800" });
  assert.ok((await texts()).includes("Third moon 97000"));
  await select("Third moon");
  await page.locator("#selected [name=place]").fill("soon");
  await page.locator("#selected").getByRole("button", { name: "change", exact: true }).click();
  await page.waitForFunction(() => /"soon" is no place in samples/.test(document.body.innerText));
  await select("Third moon");
  await makesRevision(page, () => page.getByRole("button", { name: "take away" }).click());
  await page.waitForSelector("canvas[data-ready=yes]");
  assert.equal((await texts()).filter(t => t.includes("moon")).length, 0);
});

test("what one step mends is gone after it, for good", async () => {
  for (const [code, name] of [
    ["sound-maker", "print through"],
    ["lost-return", "let them go as prints"],
    ["equal-channels", "send as mono"],
    ["hidden-track", "let them go"],
  ]) {
    const before = await count();
    await deed(code, name);
    await comes(() => flag(code).count(), 0);
    await comes(count, n => n < before);
  }
  await page.goto(`${transfer}/prepare`);
  await comes(() => page.locator('#rows tr[data-name="Double bass"] select[name=treatment] option:checked').innerText(), "print through");
  await comes(() => page.locator('#rows tr[data-name="Long hall"] select[name=treatment] option:checked').innerText(), "print through");
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#flags li");
});

test("what may stay is accepted, what the receiver should know is noted, and undo opens both again", async () => {
  const before = await count();
  await deed("empty-end", "accept");
  await deed("muted-track", "note", "A scratch of mine; not for you.");
  assert.equal(await count(), before - 2);
  await comes(() => flag("empty-end").innerText(), /accepted/);
  await comes(() => flag("muted-track").innerText(), /noted/);
  await page.locator("h2").first().click();
  await makesRevision(page, () => page.keyboard.press("u"));
  await page.waitForSelector("#flags li");
  assert.equal(await count(), before - 1);
  await makesRevision(page, () => page.keyboard.press("r"));
  await page.waitForSelector("#flags li");
  await deed("empty-end", "open again");
  assert.equal(await count(), before - 1);
  await deed("empty-end", "accept");

  // The line of stages counts as the list does.
  await comes(() => page.locator("#stages").innerText(), new RegExp(`${before - 2} flags open`));
});

test("an answer holds from revision to revision, for what it was given on", async () => {
  await page.goto(`${transfer}/prepare`);
  await makesRevision(page, () => page.selectOption("form.range select[name='files.encoding']", "float 32"));
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#flags li");
  await comes(() => flag("muted-track").innerText(), /noted/);
});

test("every kind that is left is mended in its step or accepted, and then none is open", async () => {
  const met = [];
  for (let left = await count(); left > 0; left = await count()) {
    const row = page.locator("#flags li[data-flag]").first(),
      code = await row.getAttribute("data-flag"),
      mend = row.locator(".deeds button.main").first();
    assert.ok(!met.includes(code), `${code} stays open`);
    met.push(code);
    await deed(code, (await mend.count()) ? await mend.textContent() : "accept");
    const gone = (await flag(code).count()) === 0;
    assert.ok(gone || /accepted/.test(await flag(code).innerText()), code);
  }
  await comes(() => page.locator("#flagcount").innerText(), /No flag open/);
  for (const code of [
    "printed-twice",
    "two-takes",
    "picture-sound",
    "missing-media",
    "same-name",
    "edge-step",
    "doubled",
    "spare-takes",
    "no-notes",
    "past-end",
    "other-rate",
    "before-bar-1",
    "clipped",
    "switched-off-track",
    "refused-name",
    "empty-part",
  ])
    assert.ok(met.includes(code), `${code} was not met: ${met}`);
});

test("answers stand in the session sheet of the package, and the proof passes", async () => {
  await page.goto(`${transfer}/build`);
  for (let i = 0; i < 12; i++) {
    const accept = page.getByRole("button", { name: /^Accept/ }).first();
    if (!(await accept.count())) break;
    await makesRevision(page, () => accept.click());
    await page.waitForLoadState("load");
  }
  await passes(page, transfer);
  await page.goto(`${transfer}/handover`);
  const href = await page.locator("#packages a").first().getAttribute("href");
  const zip = await (await page.request.get(address + href)).body();
  const sheet = execFileSync("python3", ["-c", SHEET], { input: zip, encoding: "utf8", maxBuffer: 1 << 28 });
  assert.match(sheet, /What the sender saw[^]*notes it<td>A scratch of mine; not for you\./);
  assert.match(sheet, /The end lies far after the last sound<td>left it so/);
});

test("no script broke and nothing was blocked on the way", () =>
  assert.deepEqual(
    problems.filter(p => !/400/.test(p)),
    [],
  ));
