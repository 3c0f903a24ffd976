import { open, signIn, stage } from "./desk.mjs";
const { page, problems } = await open(); await signIn(page);
await page.goto(await stage(page, "As it was dropped", "proof"));
const b = await page.locator("#proof").getAttribute("data-build");
const j = await page.evaluate(async b => (await fetch(`/builds/${b}/proof`)).json(), b);
console.log(Object.keys(j), JSON.stringify(j.guide)?.slice(0, 600));
await page.screenshot({ path: "/tmp/shots/drop-proof.png" });
process.exit(0);
