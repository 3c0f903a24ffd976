// Every view: no accessibility violations, reachable by keyboard, nothing wider than the screen; and the survey's speed with many clips.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { comes, address, open, signIn, stage, violations } from "./desk.mjs";

let context, page;
before(async () => {
  ({ context, page } = await open());
});
after(async () => {
  await context.close();
});

async function check(name) {
  assert.deepEqual(await violations({ context, page }), [], name);
  const wide = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  assert.ok(wide <= 0, `${name} is ${wide} px wider than the screen`);
}

test("doors", async () => {
  for (const path of ["/sign-in", "/open-a-room", "/problem?code=404"]) {
    await page.goto(address + path);
    await check(path);
  }
});

test("transfers", async () => {
  await signIn(page);
  await check("transfers");
});

for (const name of ["intake", "survey", "prepare", "build", "proof", "handover"])
  for (const chart of ["day", "night"])
    test(`${name} by ${chart}`, async () => {
      await page.goto(await stage(page, "Orrery Suite", name));
      await page.evaluate(night => document.documentElement.toggleAttribute("data-night", night), chart === "night");
      if (name === "survey") await page.waitForSelector("#chart[data-ready]");
      if (name === "proof") await page.waitForSelector("#rows .row:not(.headrow)");
      await check(`${name} by ${chart}`);
    });

test("the tempo map sheet and a click at Prepare, by day and night", async () => {
  for (const night of [false, true]) {
    await page.goto(await stage(page, "Orrery Suite", "survey"));
    await page.evaluate(night => document.documentElement.toggleAttribute("data-night", night), night);
    await page.waitForSelector("#chart[data-ready]");
    await page.keyboard.press("m");
    await page.waitForSelector("#map:not([hidden])");
    await check("tempo map sheet");
    await page.goto(await stage(page, "Three bells, one lantern", "prepare"));
    await page.evaluate(night => document.documentElement.toggleAttribute("data-night", night), night);
    await comes(() => page.locator("input[type=checkbox][name='click.print']").isChecked(), true);
    await check("prepare with a click");
  }
});

test("what opens at Prepare, and what can be taken alone at Survey, by day and night", async () => {
  for (const night of [false, true]) {
    const dark = () => page.evaluate(night => document.documentElement.toggleAttribute("data-night", night), night);
    await page.goto(await stage(page, "Orrery Suite", "prepare"));
    await dark();
    for (const drawer of ["kinds-of", "fewest-of", "clips-of", "proposed"]) {
      await page.evaluate(id => (document.getElementById(id).open = true), drawer);
      if (drawer === "fewest-of") await page.waitForSelector("#fewest-table");
      await check(`prepare, ${drawer} open`);
      await page.evaluate(id => (document.getElementById(id).open = false), drawer);
    }
    await page.check("#group-rows");
    await check("prepare under buses");
    await page.uncheck("#group-rows");
    await page.goto(await stage(page, "Orrery Suite", "survey"));
    await dark();
    await page.waitForSelector("#chart[data-ready]");
    for (const key of ["]", ",", "ArrowRight", "ArrowRight", ".", "t"]) await page.keyboard.press(key);
    await page.waitForSelector("#alone");
    await check("take alone");
  }
});

test("the keys of a screen are listed, and stages are gone to by number", async () => {
  await page.goto(await stage(page, "Orrery Suite", "survey"));
  await page.waitForSelector("#chart[data-ready]");
  await page.keyboard.press("?");
  await page.waitForSelector(".keylist:visible");
  await check("keys");
  await page.keyboard.press("Escape");
  await page.waitForSelector(".keylist", { state: "hidden" });
  await page.keyboard.press("v");
  await page.waitForSelector(".revisions:visible");
  await check("revisions");
  await page.keyboard.press("Escape");
  await page.keyboard.press("3");
  await page.waitForURL(/prepare$/);
});
