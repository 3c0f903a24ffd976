// Takes one picture of each main view from the demo: node shots.mjs [folder] [view …]
import { mkdirSync } from "node:fs";
import { address, open, signIn, stage } from "./desk.mjs";

const folder = process.argv[2] ?? new URL("../../docs/screenshots", import.meta.url).pathname, only = process.argv.slice(3);
mkdirSync(folder, { recursive: true });
const { context, page, problems } = await open();
const shoot = async name => { if (!only.length || only.includes(name)) { await page.waitForTimeout(700); await page.screenshot({ path: `${folder}/${name}.png` }); } };
await page.goto(`${address}/sign-in`);
await shoot("sign-in");
await signIn(page);
await shoot("transfers");
for (const name of ["intake", "survey", "prepare", "build", "proof", "handover"]) {
  await page.goto(await stage(page, "Orrery Suite", name));
  if (name === "survey") {
    await page.waitForSelector("#chart[data-ready]");
    await page.waitForTimeout(1500);
    for (let i = 0; i < 3; i++) { await page.keyboard.press("f"); await page.waitForTimeout(300); }
    await page.evaluate(() => { document.getElementById("chart").chart.scroll = 0; document.getElementById("chart").chart.draw(); });
    await shoot("survey");
    await page.evaluate(() => { const c = document.getElementById("chart").chart; c.from = 180_000; c.perPixel = 420; c.draw(); });
    await page.waitForTimeout(1200);
    await shoot("survey-close");
    await page.evaluate(() => document.documentElement.setAttribute("data-night", ""));
    await shoot("survey-night");
    await page.evaluate(() => document.documentElement.removeAttribute("data-night"));
  } else {
    await shoot(name);
  }
}
if (problems.length) console.error(problems.join("\n"));
await context.close();
