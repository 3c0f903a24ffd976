// What every browser test stands on: Debian's Chromium with a fresh profile, and a signed-in page.
import { chromium } from "playwright-core";
import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

export const address = process.env.LYRO_ADDRESS ?? "http://127.0.0.1:5080";
export const email = "engineer@quillfeather.example";
export const password = () => process.env.LYRO_DEMO_PASSWORD ?? readFileSync(new URL("../../data/demo-password", import.meta.url), "utf8").trim();

export const root = process.env.LYRO_ROOT ?? new URL("../..", import.meta.url).pathname;
export const work = process.env.LYRO_WORK ?? join(tmpdir(), "lyro-work");

/** The folder of a short demo, made by the command line where it is not there yet. */
export function demoFiles() {
  const folder = join(work, "demo-files");
  mkdirSync(work, { recursive: true });
  if (!existsSync(join(folder, "bells"))) execFileSync(join(root, "lyro"), ["demo", folder, "--scale", "0.12"]);
  return folder;
}

export async function open(size = { width: 1280, height: 800 }) {
  const context = await chromium.launchPersistentContext(mkdtempSync(join(tmpdir(), "lyro-browser-")), {
    executablePath: process.env.LYRO_CHROMIUM ?? "/usr/bin/chromium",
    headless: true,
    viewport: size,
    acceptDownloads: true,
    args: ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
  });
  const page = context.pages()[0] ?? await context.newPage();
  page.setDefaultTimeout(30000);
  const problems = [];
  page.on("console", m => { if (m.type() === "error") problems.push(m.text()); });
  page.on("pageerror", e => problems.push(e.message));
  return { context, page, problems };
}

export async function signIn(page) {
  await page.goto(`${address}/sign-in`);
  await page.fill("input[name=Email]", email);
  await page.fill("input[name=Password]", password());
  await page.click("button.main");
  await page.waitForURL(`${address}/`);
}

/** The address of a transfer's stage, by the transfer's name. */
export async function stage(page, name, stageName) {
  await page.goto(address);
  const href = await page.locator("#transfers a", { hasText: name }).first().getAttribute("href");
  return `${address}${href.replace(/[a-z]+$/, stageName)}`;
}
