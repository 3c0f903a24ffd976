// Rows of the track sheet: dragged, moved together, and shown under their buses.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { comes, begin, demoFiles, drop, makesRevision, open, signIn, waitForRevision } from "./desk.mjs";

let context, page, problems;
const look = async name => {
  if (process.env.LYRO_LOOK) await page.screenshot({ path: `${process.env.LYRO_LOOK}/${name}.png` });
};
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  const transfer = await begin(page, "Rows");
  await drop(page, [["suite.session.json", readFileSync(join(demoFiles(), "session", "Orrery_Suite.session.json"))]]);
  await waitForRevision(page, 1);
  await page.goto(`${transfer}/prepare`);
});
after(async () => {
  await context.close();
});

const names = () => page.locator("#rows tr[data-track]").evaluateAll(rows => rows.map(row => row.dataset.name));
const order = name => page.locator(`#rows tr[data-name='${name}'] td.order`);
/** Drags as a hand does: the row is in it before anything scrolls. */
async function drag(from, to) {
  await order(from).hover();
  const { x, y } = await order(from).boundingBox();
  await page.mouse.down();
  await page.mouse.move(x + 4, y + 4, { steps: 3 });
  await order(to).hover();
  await order(to).hover();
  await page.mouse.up();
}

test("a row is dragged before another, marked ones go together, and to the end", async () => {
  const first = await names();
  await makesRevision(page, () => drag("Piano", "Horn room"));
  assert.deepEqual((await names()).slice(0, 3), [first[0], "Piano", "Horn room"]);
  await page.locator("#rows tr[data-name='Cello'] td.here").click();
  await page.keyboard.press("x");
  await page.locator("#rows tr[data-name='Bell'] td.here").click();
  await page.keyboard.press("x");
  await makesRevision(page, () => drag("Bell", first[0]));
  assert.deepEqual((await names()).slice(0, 3), ["Cello", "Bell", first[0]]);
  await makesRevision(page, () => page.keyboard.press("u"));
  await page.waitForFunction(n => document.querySelector("#rows tr[data-track]").dataset.name === n, first[0]);
});

test("rows stand under their buses, and those of one bus are marked in one press", async () => {
  await makesRevision(page, () => page.selectOption("#order-rows", "stem"));
  await page.check("#group-rows");
  const lines = await page.locator("#rows tr.busline b").allInnerTexts();
  assert.ok(lines.includes("Strings") && lines.includes("straight to the master"), lines.join());
  await look("buses");
  const line = page.locator("#rows tr.busline", { hasText: "Strings" }).first();
  const count = Number((await line.innerText()).match(/mark these (\d+)/)[1]);
  await line.locator("button").click();
  await comes(() => page.locator("#rows tr.marked").count(), count);
  assert.ok(await page.locator("#rows tr.marked").evaluateAll(rows => rows.every(row => row.dataset.bus === "Strings")));

  // It stays so while rows change, and goes as it came.
  await makesRevision(page, () => page.click("#others-back"));
  await comes(
    () => page.locator("#rows tr.busline").count(),
    n => n > 0,
  );
  await page.uncheck("#group-rows");
  await comes(() => page.locator("#rows tr.busline").count(), 0);
  assert.deepEqual(problems, []);
});
