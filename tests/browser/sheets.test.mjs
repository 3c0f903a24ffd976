// Receiver sheets: three that come along and one of the room give four preparations of one session; what differs from a sheet
// is shown, names are made to fit, and sheets go out and come in as files, with their history.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { join } from "node:path";
import { comes, HANGS, address, begin, demoFiles, drop, files, makesRevision, open, root, signIn, waitForRevision } from "./desk.mjs";

const OWN = "Lantern House " + process.pid;
let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "By the sheet");
  await drop(page, files(join(demoFiles(), "session")), demoFiles());
  await waitForRevision(page, 1);
  await page.goto(`${transfer}/prepare`);
});
after(async () => {
  await context.close();
});

const choose = async name => {
  await page.selectOption("#sheet-of select", { label: name });
  await makesRevision(page, () => page.locator("#sheet-of form button").first().click());
};
/** One more receiver, by name; its own number is in the address then. */
const another = async name => {
  await page.click("#more summary");
  await page.fill("#more input[name=name]", name);
  await makesRevision(page, () => page.click("#more button"));
};

test("a sheet that is typed is kept as a version of its name, goes out as a file, and one that is none is refused in words", async () => {
  await page.goto(`${address}/sheets`);
  await comes(
    () => page.locator("#sheets tbody tr").count(),
    n => n >= 7,
  );
  const sheet = {
    sheetVersion: 1,
    name: OWN,
    audio: "print as mixed",
    namePattern: "{track}",
    longestName: 9,
    letters: "plain",
    encoding: "integer 16",
  };
  for (const [text, words] of [
    [JSON.stringify({ ...sheet, sheetVersion: 9 }), /has version 9, and this program knows versions up to 1/],
    [JSON.stringify({ ...sheet, clips: { handle: 36000000 } }), /\$\.clips\.handle/],
    ["{", /JSON/],
  ]) {
    await page.fill("#type textarea", text);
    await page.click("#type button");
    // What was wrong before stands there until the answer has come.
    await page.waitForFunction(w => new RegExp(w).test(document.getElementById("wrong")?.innerText ?? ""), words.source, {
      timeout: HANGS,
    });
    await comes(() => page.locator("#type textarea").inputValue(), text);
  }
  for (const handle of [500, 750]) {
    await page.goto(`${address}/sheets`);
    await page.fill("#type textarea", JSON.stringify({ ...sheet, clips: { handle } }));
    await page.click("#type button");
    await page.waitForSelector(`tr[data-sheet="${OWN}"]`);
  }
  await comes(() => page.locator(`tr[data-sheet="${OWN}"]`).count(), 2);
  const href = await page.locator(`tr[data-sheet="${OWN}"] a`).first().getAttribute("href");
  const out = await page.request.get(address + href);
  assert.match(out.headers()["content-disposition"], /\.json/);
  assert.equal((await out.json()).clips.handle, 750);
  await page.setInputFiles("#bring input[type=file]", {
    name: "sheet.json",
    mimeType: "application/json",
    buffer: Buffer.from(JSON.stringify({ ...sheet, name: OWN + " b" })),
  });
  await page.click("#bring button");
  await page.waitForSelector(`tr[data-sheet="${OWN} b"]`);
  await page.locator(`tr[data-sheet="${OWN} b"] button`).click();
  // The press itself has the same words: that it is gone is what shows it.
  await page.waitForFunction(name => {
    const row = document.querySelector(`tr[data-sheet="${name} b"]`);
    return row.innerText.includes("put away, ") && row.querySelector("button") === null;
  }, OWN);
});

test("four sheets give four preparations of one session, side by side", async () => {
  await page.goto(`${transfer}/prepare`);
  await comes(() => page.locator("#sheet-of option", { hasText: OWN + " b" }).count(), 0);
  await choose("Mixing, from files");
  for (const [name, sheet] of [
    ["Tarn Lane", "Mixing, from clips"],
    ["Bell yard", "Picture editing"],
    ["Night Kitchen", OWN],
  ]) {
    await another(name);
    await choose(sheet);
    await comes(() => page.locator("#off-sheet summary").innerText(), /Everything is as the sheet asks/);
  }
  await page.click("#side-by-side summary");
  const cells = await Promise.all((await page.locator("#side-by-side tbody tr").all()).map(r => r.locator("td").allInnerTexts()));
  const rows = Object.fromEntries(cells.map(([name, ...values]) => [name, values]));
  assert.deepEqual(rows["Cello"], ["print dry", "keep clips", "keep clips", "print as mixed"]);
  assert.deepEqual(rows["depth"], ["24 bit", "24 bit", "24 bit", "16 bit"]);
  assert.deepEqual(rows["clips: places"], ["in samples", "in samples", "in frames", "in frames"]);
});

test("what is otherwise than the sheet asks is shown, and names that it does not take are a flag that is mended", async () => {
  await page.locator('#rows tr[data-name="Cello"] select[name=treatment]').selectOption("print dry");
  await page.waitForFunction(() => /1 thing here is not/.test(document.querySelector("#off-sheet summary").innerText));
  await page.click("#off-sheet summary");
  await comes(() => page.locator("#off-sheet").innerText(), /1 thing here is not as the sheet asks[^]*Cello\s+print dry\s+print as mixed/);
  await page.keyboard.press("2");
  await page.waitForSelector("#flags li");
  const long = page.locator('#flags li[data-flag="long-name"]');
  await comes(() => long.innerText(), /names are longer than the receiver takes/);
  await long.locator("summary").click();
  await makesRevision(page, () => long.getByRole("button", { name: "make names fit" }).click());
  await page.waitForSelector("#flags li");
  await comes(() => page.locator('#flags li[data-flag="long-name"]').count(), 0);
  await page.keyboard.press("3");
  await page.waitForSelector("#rows input[name=name]");
  const names = await page.locator("#rows input[name=name]").evaluateAll(all => all.map(i => i.value));
  assert.ok(names.length > 10 && names.every(n => n.length <= 9 && /^[A-Za-z0-9_-]+$/.test(n)), names.join());
  assert.equal(new Set(names).size, names.length);
});

test("what a receiver gets is kept as a sheet, and a sheet is left again", async () => {
  await page.goto(`${transfer}/prepare`);
  await page.click("#keep-sheet summary");
  await page.fill("#keep-sheet input[name=name]", OWN + " c");
  await page.click("#keep-sheet button");
  await page.waitForSelector(`#sheet-of option:text-is("${OWN} c")`, { state: "attached" });
  await choose(OWN + " c");
  await comes(() => page.locator("#sheet-of b").innerText(), new RegExp(OWN + " c"));
  await choose("none");
  await comes(() => page.locator("#off-sheet").count(), 0);
});

test("a sheet is learnt from files that the receiving side wrote, each line with where it was seen, and kept", async () => {
  await page.goto(`${address}/sheets`);
  await page.locator("#learn input[name=name]").fill("Learnt of Tarn Lane");
  const fixture = name => join(root, "tests", "fixtures", "aaf", name);
  await page.locator("#learn input[type=file]").setInputFiles([fixture("frame-units.aaf"), fixture("linked-mono.aaf")]);
  await page.getByRole("button", { name: "Look at them" }).click();
  const seen = page.locator("#learnt tbody tr");
  await comes(() => page.locator("#learnt").innerText(), /clips as\s+AAF\s+frame-units\.aaf, linked-mono\.aaf\s+asks for it/);
  await comes(() => seen.filter({ hasText: "places" }).count(), 2);
  await comes(() => seen.filter({ hasText: "whole frames" }).innerText(), /frame-units\.aaf[^]*open/);
  await comes(() => page.locator("#type textarea").inputValue(), /"name": "Learnt of Tarn Lane"/);
  await page.locator("#type button").click();
  await page.locator('#sheets tr[data-sheet="Learnt of Tarn Lane"]').waitFor();
  await page.locator("#learn input[type=file]").setInputFiles([join(root, "README.md")]);
  await page.getByRole("button", { name: "Look at them" }).click();
  await page.waitForFunction(() => /README\.md[^]*Nothing of what a room takes/.test(document.querySelector("main")?.innerText ?? ""));
});

test("three sheets that come along and a learnt one give four different preparations of one session", async () => {
  await page.goto(`${transfer}/prepare`);
  await another("A room that was learnt");
  await choose("Learnt of Tarn Lane");
  await comes(() => page.locator("#off-sheet summary").innerText(), /Everything is as the sheet asks/);
  await page.click("#side-by-side summary");
  const rows = await Promise.all((await page.locator("#side-by-side tbody tr").all()).map(r => r.locator("td").allInnerTexts()));
  const columns = [1, 2, 3, rows[0].length - 1].map(i => rows.map(r => r[i]).join("|"));
  assert.equal(new Set(columns).size, 4);
});

test("no script broke and nothing was blocked on the way", () => assert.deepEqual(problems, []));
