// Settings to set up by, and every state of a transfer: compared in words and on the timeline, named, gone back to, and a
// transfer begun from one.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { join } from "node:path";
import { comes, begin, demoFiles, drop, files, makesRevision, open, revision, signIn, waitForRevision } from "./desk.mjs";

let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "Told apart");
  await drop(page, files(join(demoFiles(), "session")), demoFiles());
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

test("settings are read as a table and as CSV, switched-off effects too", async () => {
  await page.goto(`${transfer}/survey`);
  await page.locator("#settings-of").click();
  await page.waitForURL(/settings/);
  const row = name => page.locator("#settings tbody tr", { has: page.getByRole("rowheader", { name, exact: true }) });
  await comes(
    () => row("Cello").innerText(),
    /7 points, −12\.00 to 0\.00 dB[^]*centre[^]*Strings[^]*Long hall[^]*−9\.00 dB after the fader/,
  );
  await comes(() => row("Double bass").innerText(), /1 drive and cabinet[^]*drive dB 14[^]*2 compressor, switched off/);
  const csv = await (await page.request.get(`${transfer}/settings.csv`)).text();
  assert.match(csv, /^track number,track,what,of,value,switched off\r?\n/);
  assert.match(csv, /4,Double bass,effect,2 compressor,"threshold dB -20; ratio 4",yes/);
});

test("tracks are shown by what they are, in another order, with their takes", async () => {
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("canvas[data-ready=yes]");
  const names = () => page.evaluate(() => document.getElementById("chart").chart.survey.tracks.map(t => t.name));
  const all = await names();
  await page.locator("#lanes-menu summary").click();
  await page.locator("#show").selectOption("ways");
  assert.deepEqual(await names(), ["Strings", "Long hall", "Echo wall", "Master"]);
  await comes(() => page.locator("#heads button:visible").count(), 4);
  await comes(() => page.locator("#shown").innerText(), /4 of 28/);
  await page.locator("#show").selectOption("flagged");
  assert.ok((await names()).includes("Double bass") && !(await names()).includes("Strings"));
  await page.locator("#show").selectOption("all");
  await page.locator("#order").selectOption("bus");
  assert.deepEqual((await names()).slice(0, 5), ["Strings", "Cello", "Double bass", "Hall L", "Hall R"]);
  await page.locator("#takes").check();
  const withTakes = () => page.waitForFunction(n => document.getElementById("chart").chart.survey.tracks.length === n, all.length + 2);
  await withTakes();
  const shown = await names();
  assert.equal(shown.length, all.length + 2);
  assert.equal(shown[shown.indexOf("Narrator") + 1], "take 2");
  await page.reload();
  await page.waitForSelector("canvas[data-ready=yes]");
  await withTakes();
  assert.deepEqual(await names(), shown, "it is as it was left");
  await page.locator("#lanes-menu summary").click();
  await page.locator("#show").selectOption("ways");
  await page.locator("#lanes-menu summary").click();
  await page.locator('#flags li[data-flag="dropout"] summary').click();
  await page.locator('#flags li[data-flag="dropout"] .objects button').first().click();
  assert.ok((await names()).includes("Double bass"), "a flag shows its track again");
  await page.evaluate(() => sessionStorage.clear());
});

test("two revisions are compared in words and on the timeline", async () => {
  const first = await revision(page);
  await page.goto(`${transfer}/prepare`);
  await makesRevision(page, () =>
    page.locator('#rows tr[data-name="Cello"] select[name=treatment]').selectOption({ label: "print through" }),
  );
  await page.goto(`${transfer}/intake`);
  const place = page.locator("#items tr, .items tr, tr").filter({ hasText: "Orrery_Suite.session.json" }).first();
  await comes(
    () => place.count(),
    n => n > 0,
  );
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("canvas[data-ready=yes]");
  await page.locator("#new-marker").click();
  await page.locator("#selected [name=text]").fill("Second moon");
  await makesRevision(page, () => page.getByRole("button", { name: "set marker" }).click());
  const last = await revision(page);
  await page.goto(`${transfer}/revisions?before=${first}&after=${last}`);
  await comes(() => page.locator("#differences").innerText(), /Marker[^]*Second moon/);
  await comes(() => page.locator("#differences").innerText(), /Cello[^]*print dry[^]*print through/);
  await page.goto(`${transfer}/revisions?before=${last}&after=${last}`);
  await comes(() => page.locator("#same").innerText(), /Nothing is otherwise/);
  await page.goto(`${transfer}/revisions?before=1&after=1000`);
  await comes(() => page.locator("body").innerText(), /not|no /i);
});

test("a revision is named, gone back to, and a transfer begins from it", async () => {
  await page.goto(`${transfer}/revisions`);
  const item = number => page.locator("#all-revisions > li", { has: page.locator(`input[name=number][value="${number}"]`) });
  await item(1).locator("summary").click();
  await item(1).getByLabel("Name of revision 1").fill("as it came");
  await Promise.all([page.waitForNavigation(), item(1).getByRole("button", { name: "name", exact: true }).click()]);
  await comes(() => item(1).locator("summary").innerText(), /as it came/);
  await item(1).locator("summary").click();
  await Promise.all([page.waitForNavigation(), item(1).getByRole("button", { name: "go back to it" }).click()]);
  assert.equal(await revision(page), 1);
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("canvas[data-ready=yes]");
  assert.equal(await page.evaluate(() => document.getElementById("chart").chart.survey.markers.some(m => m.text === "Second moon")), false);
  await page.goto(`${transfer}/revisions`);
  await item(2).locator("summary").click();
  await item(2).getByLabel("Name of the transfer from revision 2").fill("Told apart, another way");
  await Promise.all([page.waitForURL(/survey/), item(2).getByRole("button", { name: "begin a transfer from it" }).click()]);
  await comes(() => page.locator("h1").innerText(), /Told apart, another way/);
  assert.equal(await revision(page), 1);
  await page.waitForSelector("canvas[data-ready=yes]");
});

test("no script broke and nothing was blocked on the way", () =>
  assert.deepEqual(
    problems.filter(p => !/404/.test(p)),
    [],
  ));
