// Several receivers of one session: each gets its own, side by side, with builds of its own; and a receiver that leaves.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { join } from "node:path";
import { comes, address, begin, demoFiles, drop, files, makesRevision, open, passes, signIn, waitForRevision } from "./desk.mjs";

let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "To two rooms");
  await drop(
    page,
    files(join(demoFiles(), "dropped")).filter(f => !/print|mix v7|click|corrected/.test(f)),
    demoFiles(),
  );
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

const differences = () => page.locator("#side-by-side tbody tr").allInnerTexts();

test("one receiver is one line, gets a name, and a second gets what it gets", async () => {
  await page.goto(`${transfer}/prepare`);
  await comes(() => page.locator("#side-by-side").count(), 0);
  await page.click("#rename summary");
  await page.fill("#rename input[name=name]", "Lantern House");
  await makesRevision(page, () => page.click("#rename button"));
  await comes(() => page.locator("header.facts h1").innerText(), /to Lantern House/);
  await page.click("#more summary");
  await page.fill("#more input[name=name]", "Night Kitchen");
  await makesRevision(page, () => page.click("#more button"));
  await page.waitForURL(/prepare\?to=2$/);
  await comes(() => page.locator("#side-by-side summary").innerText(), /All get the same/);
});

test("what is changed for one is changed for that one, and stands side by side", async () => {
  await makesRevision(page, () => page.selectOption("form.range select[name='files.encoding']", "float 32"));
  await page.reload();
  await page.click("#side-by-side summary");
  assert.deepEqual(
    (await differences()).map(t => t.replace(/\s+/g, " ")),
    ["depth 24 bit 32 bit float"],
  );
  await page.keyboard.press("2");
  await page.waitForURL(/survey\?to=2$/);
  await page.keyboard.press("3");
  await page.waitForURL(/prepare\?to=2$/);

  // Names that are tried are this receiver's too.
  await page.fill("input[name='files.namePattern']", "{track}_{depth}");
  await page.waitForFunction(() => /_32float$/.test(document.querySelector("#rows input[name=name]").value));
  await page.reload();
  await page.locator("#receivers a.receiver").click();
  await page.waitForURL(/prepare$/);
  await comes(() => page.locator("form.range select[name='files.encoding']").inputValue(), "integer 24");
});

test("each has its builds and packages, and a build says whom it is for", async () => {
  await page.goto(`${transfer}/build?to=2`);
  const size = async () => Number(/01_Cello\.wav[^\t]*\t[\d\s]+\s([\d.]+) MB/.exec(await page.locator("#planned").innerText())[1]);
  const float = await size();
  await page.goto(`${transfer}/build`);
  assert.ok(Math.abs(float / (await size()) - 4 / 3) < 0.06, `${float} MB as float`);
  await page.goto(`${transfer}/build?to=2`);
  await passes(page, transfer, "?to=2");
  await page.goto(`${transfer}/handover?to=2`);
  await comes(() => page.locator("#packages tbody tr").count(), 1);
  await page.goto(`${transfer}/handover`);
  await comes(() => page.locator("#packages").count(), 0);
  await comes(() => page.locator("main").innerText(), /There is no package to hand over yet/);
});

test("a receiver that leaves takes nothing with it, and comes back by undo", async () => {
  await page.goto(`${transfer}/prepare?to=2`);
  await makesRevision(page, () => page.getByRole("button", { name: "remove Night Kitchen" }).click());
  await page.waitForURL(/prepare$/);
  await comes(() => page.locator("#side-by-side").count(), 0);
  await page.goto(`${transfer}/handover`);
  await comes(() => page.locator("#packages").innerText(), /for Night Kitchen, who receives nothing any more/);

  // An address of before shows who is there.
  await page.goto(`${transfer}/prepare?to=2`);
  await comes(() => page.locator("header.facts h1").innerText(), /to Lantern House/);
  await page.locator("h2").first().click();
  await makesRevision(page, () => page.keyboard.press("u"));
  await comes(() => page.locator("header.facts h1").innerText(), /Lantern House\s+Night Kitchen/);
  await page.goto(address);
  await comes(() => page.locator("#transfers tr", { hasText: "To two rooms" }).first().innerText(), /Lantern House, Night Kitchen/);
});

test("a change for a receiver that left in the meantime is refused in words", async () => {
  await page.goto(`${transfer}/prepare?to=2`);
  const other = await context.newPage();
  await other.goto(`${transfer}/prepare?to=2`);
  await makesRevision(other, () => other.getByRole("button", { name: "remove Night Kitchen" }).click());
  await other.close();
  problems.length = 0;
  const refused = page.waitForResponse(r => r.status() === 409);
  await page.selectOption("form.range select[name='files.encoding']", "integer 16");
  assert.match(await (await refused).text(), /This receiver left the transfer/);
  problems.length = 0;
});

test("no script broke and nothing was blocked on the way", () => assert.deepEqual(problems, []));
