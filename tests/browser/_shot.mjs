import { chromium } from "playwright-core";
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox","--disable-gpu"] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
const A = process.env.LYRO_ADDRESS;
await p.goto(A + "/sign-in"); await p.fill("input[type=email]", "engineer@quillfeather.example"); await p.fill("input[type=password]", process.env.LYRO_DEMO_PASSWORD); await p.press("input[type=password]", "Enter"); await p.waitForLoadState("networkidle");
const links = await p.locator("a[href*='/transfers/']").evaluateAll(as => as.map(a => [a.innerText, a.getAttribute("href")]));
console.log(links.slice(0,12));
for (const [i, path] of process.argv.slice(2).entries()) { const l = path.startsWith("/") ? path : links.find(x => x[0].includes(path.split("|")[0]))[1].replace(/\/(intake|survey|prepare|build|proof|handover).*/, "") + "/" + path.split("|")[1]; await p.goto(A + l); await p.waitForTimeout(1500); await p.screenshot({ path: `/tmp/shot${i}.png` }); console.log(l); }
await b.close();
