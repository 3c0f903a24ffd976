// What every browser test stands on: Debian's Chromium with a fresh profile, and a signed-in page.
import assert from "node:assert/strict";
import { afterEach } from "node:test";
import { chromium } from "playwright-core";
import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, renameSync, rmSync, statSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
import { isDeepStrictEqual } from "node:util";

export const address = process.env.LYRO_ADDRESS ?? "http://127.0.0.1:5080";
export const email = "engineer@quillfeather.example";
export const password = () =>
  process.env.LYRO_DEMO_PASSWORD ?? readFileSync(new URL("../../data/demo-password", import.meta.url), "utf8").trim();

/** Milliseconds after which work that goes on is taken for work that hangs, on however slow a machine; fewer where somebody waits. */
export const HANGS = Number(process.env.LYRO_HANGS ?? 300000);

/** Milliseconds until what a page should show, and does not, is missed. */
const PATIENCE = 120000;

export const root = process.env.LYRO_ROOT ?? new URL("../..", import.meta.url).pathname;
export const work = process.env.LYRO_WORK ?? join(tmpdir(), "lyro-work");

/** The folder of a short demo, made by the command line where it is not there yet. */
export function demoFiles() {
  const folder = join(work, "demo-files");
  mkdirSync(work, { recursive: true });
  if (existsSync(folder)) return folder;
  // Two files may want it at once: each makes its own, and the first one's counts.
  const mine = mkdtempSync(join(work, "demo-"));
  execFileSync(join(root, "lyro"), ["demo", mine, "--scale", "0.12"]);
  try {
    renameSync(mine, folder);
  } catch {
    rmSync(mine, { recursive: true });
  }
  return folder;
}

/** Where profiles lie: beside the rest of a run, which goes when it ends. */
function profiles() {
  mkdirSync(work, { recursive: true });
  return work;
}

// What the pages showed when a test failed says more than that something was not there.
const opened = new Set(),
  said = new WeakSet();
afterEach(async t => {
  const error = t.error?.cause ?? t.error;
  if (t.passed || said.has(error)) return;
  said.add(error);
  const shown = await Promise.all([...opened].flatMap(c => c.pages()).map(page => shows(page)));
  error.message += shown.map(s => `\n${s}`).join("");
});
async function shows(page) {
  const words = page.evaluate(
    () =>
      `${document.readyState}, ${JSON.stringify(document.body?.dataset)}: ${document.body?.innerText.replace(/\s+/g, " ").slice(0, 600)}`,
  );
  const late = new Promise(done => setTimeout(() => done("it did not answer"), 5000));
  return `The page at ${page.url()}: ${await Promise.race([words, late]).catch(problem => problem.message.split("\n")[0])}`;
}

export async function open(size = { width: 1280, height: 800 }) {
  const context = await chromium.launchPersistentContext(mkdtempSync(join(profiles(), "browser-")), {
    executablePath: process.env.LYRO_CHROMIUM ?? "/usr/bin/chromium",
    headless: true,
    viewport: size,
    acceptDownloads: true,
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  });
  const page = context.pages()[0] ?? (await context.newPage());
  // A machine that builds, measures and shows at once is slow: half a minute is soon over there.
  page.setDefaultTimeout(PATIENCE);
  for (const makes of [goesAnyway, waitsAnyway]) {
    makes(page);
    context.on("page", makes);
  }
  opened.add(context);
  context.on("close", () => opened.delete(context));
  const problems = [];
  page.on("console", m => {
    if (m.type() === "error") problems.push(m.text());
  });
  page.on("pageerror", e => problems.push(e.message));
  return { context, page, problems };
}

/**
 * A page loads itself anew whenever work ended, as often as work ends: that may end the test's going elsewhere or its question,
 * in the browser's many words for it. Only a page that is late, closed or cannot be reached is a failure; all else goes again.
 */
function goesAnyway(page) {
  const again = (thing, names, ended) => {
    for (const name of names) {
      const does = thing[name].bind(thing);
      thing[name] = async (...what) => {
        for (const since = Date.now(); ;) {
          try {
            return await does(...what);
          } catch (problem) {
            if (!ended(problem.message) || Date.now() - since > HANGS) throw problem;
            await page.waitForLoadState("load").catch(() => {});
          }
        }
      };
    }
  };
  again(page, ["goto", "reload"], m => !/Timeout|has been closed|crashed|net::ERR_(?!ABORTED)|invalid URL|Download is starting/i.test(m));
  again(page.mainFrame(), ["evaluate", "$$eval"], m => /Execution context was destroyed|Not attached to an active page/.test(m));
}

/** What is waited for may not be on the page yet, or not while it is loaded anew: that is no failure, and is asked again. */
function waitsAnyway(page) {
  const wait = page.waitForFunction.bind(page);
  page.waitForFunction = (predicate, ...more) => wait(asked(predicate), ...more);
}
function asked(predicate) {
  // A promise is true whatever becomes of it: nothing would be waited for.
  if (predicate.constructor.name === "AsyncFunction")
    throw new Error("What is waited for on a page is asked at once; use until() for what takes time.");
  return new Function(
    "given",
    `try { return (${predicate})(given); }
     catch (problem) { if (problem instanceof TypeError && / of null/.test(problem.message)) return false; throw problem; }`,
  );
}

/** Waits until something that takes time to ask is so. */
export async function until(asks, what) {
  for (const since = Date.now(); !(await asks()); await new Promise(done => setTimeout(done, 300)))
    if (Date.now() - since > HANGS) throw new Error(`${what} did not come to be.`);
}

/**
 * Asks a page until the answer is as wanted: that value, words that match, or what a function of it says. A page that is loaded
 * anew, or is told of work as it goes on, shows a moment later what it does not show yet; who asks it once has a test that fails
 * on slow machines. Gives the answer; fails with the last one.
 */
export async function comes(asks, wanted) {
  const is = answer =>
    wanted instanceof RegExp ? wanted.test(answer) : typeof wanted === "function" ? wanted(answer) : isDeepStrictEqual(answer, wanted);
  for (const since = Date.now(); ; await new Promise(done => setTimeout(done, 200))) {
    const answer = await asks();
    if (is(answer)) return answer;
    if (Date.now() - since > PATIENCE) assert.fail(`Not as wanted, ${wanted}:\n${JSON.stringify(answer)}\nasked by ${asks}`);
  }
}

const axe = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
/** What would keep somebody with assistive technology from using a page as it stands, in words. */
export async function violations({ context, page }) {
  // Through the debugger, so that the page's own policy against foreign scripts stays in force.
  const cdp = await context.newCDPSession(page);
  await cdp.send("Runtime.evaluate", { expression: axe });
  const { result } = await cdp.send("Runtime.evaluate", {
    expression:
      "axe.run(document, { resultTypes: ['violations'] }).then(r => JSON.stringify(r.violations.map(v => " +
      "v.id + ': ' + v.nodes.map(n => n.html.slice(0, 140)).slice(0, 3).join(' | '))))",
    awaitPromise: true,
    returnByValue: true,
  });
  return JSON.parse(result.value);
}

export async function signIn(page) {
  await page.goto(`${address}/sign-in`);
  await page.fill("input[name=Email]", email);
  await page.fill("input[name=Password]", password());
  await page.click("button.main");
  await page.waitForURL(`${address}/`);
}

/** The address of a transfer's stage, by the transfer's whole name: other tests begin transfers whose names begin alike. */
export async function stage(page, name, stageName) {
  await page.goto(address);
  const href = await page.locator("#transfers").getByRole("link", { name, exact: true }).first().getAttribute("href");
  return `${address}${href.replace(/[a-z]+$/, stageName)}`;
}

/** Begins a transfer and stays on its intake. */
export async function begin(page, name) {
  await page.goto(address);
  await page.fill("input[name=Name]", name);
  await page.click("button.main");
  await page.waitForURL(/\/intake$/);
  return page.url().replace(/\/intake$/, "");
}

export const files = folder =>
  readdirSync(folder, { recursive: true })
    .map(f => join(folder, f))
    .filter(f => statSync(f).isFile());

/** Drops files on the page as the file manager does, by name and bytes: paths below a base, or [name, bytes]. */
export async function drop(page, list, base) {
  // A page that was just loaded anew listens only when its modules ran.
  await page.waitForLoadState("load");
  const payload = list.map(f =>
    Array.isArray(f)
      ? { name: f[0], body: Buffer.from(f[1]).toString("base64") }
      : { name: relative(base, f), body: readFileSync(f).toString("base64") },
  );
  await page.evaluate(async payload => {
    const transfer = new DataTransfer();
    for (const p of payload) transfer.items.add(new File([Uint8Array.from(atob(p.body), c => c.charCodeAt(0))], p.name));
    window.dispatchEvent(Object.assign(new DragEvent("drop", { dataTransfer: transfer, bubbles: true, cancelable: true })));
  }, payload);
}

const MANIFEST = `import hashlib,io,sys,zipfile
z=zipfile.ZipFile(io.BytesIO(sys.stdin.buffer.read()))
print(hashlib.sha256(z.read(next(n for n in z.namelist() if n.endswith("/manifest.json")))).hexdigest())`;
/** The SHA-256 of a package's manifest, by another library. */
export const manifestSum = zip => execFileSync("python3", ["-c", MANIFEST], { input: zip, encoding: "utf8", maxBuffer: 1 << 28 }).trim();

export const revision = page => page.locator("#revision").innerText().then(Number);
export async function waitForRevision(page, number) {
  await page
    .waitForFunction(
      // Where files come in the page is loaded anew until their sound is measured.
      n =>
        Number(document.getElementById("revision")?.textContent) >= n &&
        (!document.getElementById("batches") || document.body.dataset.settled === "yes"),
      number,
      { timeout: HANGS },
    )
    .catch(async problem => {
      throw new Error(`no revision ${number}; the page says: ${await page.locator("#under-way, #batches, #notice").allInnerTexts()}`, {
        cause: problem,
      });
    });
}
/** Does something and waits until another revision is in force. */
export async function makesRevision(page, action) {
  const before = await revision(page);
  await action();
  await page.waitForFunction(n => {
    const shown = document.getElementById("revision");
    return shown && Number(shown.textContent) !== n;
  }, before);
}

/** Keeps the clips of all audio tracks, and shows how they go. */
export async function keepsClips(page, transfer) {
  await page.goto(`${transfer}/prepare`);
  await page.click("#clips-of > summary");
  await makesRevision(page, () => page.click("#keep-all"));
  await page.waitForSelector("#clip-choices");
}

/** Builds a transfer and sees that its proof passes. */
export async function passes(page, transfer, query = "") {
  await page.goto(`${transfer}/build${query}`);
  const number = await revision(page);
  await page.click("#build");
  // An earlier build may stand there as done until this one has begun; when it ends the stages say its revision.
  await page.waitForFunction(
    n =>
      document.getElementById("state")?.dataset.state === "Done" &&
      new RegExp(`revision\\s+${n}\\b`).test(document.getElementById("stages").innerText),
    number,
    { timeout: HANGS },
  );
  await page.goto(`${transfer}/proof${query}`);
  assert.equal(await page.locator("#verdict").getAttribute("data-passed"), "yes");
}
