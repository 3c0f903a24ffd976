// Broken lines, stops and kills: nothing finished is lost, no half file is offered, and work goes on.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  comes,
  HANGS,
  address,
  demoFiles,
  drop as dropOn,
  manifestSum,
  open,
  revision,
  root,
  signIn,
  stage,
  until,
  waitForRevision,
  work,
} from "./desk.mjs";

const demo = demoFiles(),
  data = process.env.LYRO_DATA;
let context, page, transfer;
before(async () => {
  ({ context, page } = await open());
  await signIn(page);
  // What the demo builds on its own comes first in the queue, and would make each wait here a wait for that.
  for (const name of ["Orrery Suite", "Planetarium show, all printed"]) {
    await page.goto(await stage(page, name, "build"));
    await page.waitForSelector('#state[data-state="Done"]', { timeout: HANGS });
  }
});
after(async () => {
  await context.close();
});

const encode = text => Buffer.from(text).toString("base64");
const tus = { "Tus-Resumable": "1.0.0" };
async function begin(name, length, batch) {
  return page.request.post(`${address}/uploads`, {
    headers: { ...tus, "Upload-Length": String(length), "Upload-Metadata": `name ${encode(name)},batch ${encode(batch)}` },
  });
}
const append = (url, offset, body) =>
  page.request.fetch(`${address}${url}`, {
    method: "PATCH",
    headers: { ...tus, "Upload-Offset": String(offset), "Content-Type": "application/offset+octet-stream" },
    data: body,
  });
const offset = async url =>
  Number((await page.request.fetch(`${address}${url}`, { method: "HEAD", headers: tus })).headers()["upload-offset"]);

test("an upload that broke off is resumed where it stopped", async () => {
  await page.goto(address);
  await page.fill("input[name=Name]", "Resumed");
  await page.click("button.main");
  await page.waitForURL(/\/intake$/);
  transfer = page.url().replace(/\/intake$/, "");
  const bells = readFileSync(join(demo, "bells", "media", "three-bells.wav"));
  const batch = (await (await page.request.post(`${transfer}/batches`, { headers: tus })).json()).id;
  const created = await begin("three-bells.wav", bells.length, batch),
    url = created.headers().location;
  assert.equal(created.status(), 201);
  assert.equal((await append(url, 0, bells.subarray(0, 30001))).status(), 204);
  const early = await page.request.post(`${address}/batches/${batch}/finish`, { headers: tus });
  assert.equal(early.status(), 409);
  assert.match(await early.text(), /30001 of \d+ bytes/);
  assert.equal((await append(url, 7, bells.subarray(7))).status(), 409);
  assert.equal(await offset(url), 30001);
  assert.equal((await append(url, 30001, bells.subarray(30001))).status(), 204);
  assert.equal((await page.request.post(`${address}/batches/${batch}/finish`, { headers: tus })).status(), 204);
  await until(async () => (await (await page.request.get(`${transfer}/intake`)).text()).includes("three-bells"), "three-bells.wav");
  await page.goto(`${transfer}/intake`);
  await comes(() => page.locator("#items").innerText(), /three-bells\.wav/);
});

test("a file that broke off goes on when it is dropped again", async () => {
  await page.goto(`${transfer}/intake`);

  // What came before is measured to its end: the page is loaded anew then, and would not show that this file broke off.
  await waitForRevision(page, 1);
  const bytes = readFileSync(join(demo, "bells", "media", "three-bells.wav")),
    body = bytes.toString("base64");
  const drop = () =>
    page.evaluate(body => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(atob(body), c => c.charCodeAt(0))], "again.wav", { lastModified: 1 }));
      window.dispatchEvent(new DragEvent("drop", { dataTransfer: transfer, bubbles: true, cancelable: true }));
    }, body);
  let url = null;
  await page.route("**/uploads/*", route => {
    if (route.request().method() === "PATCH") {
      url = new URL(route.request().url()).pathname;
      return route.abort();
    }
    return route.continue();
  });
  await drop();
  await page.waitForSelector("#under-way .flag", { timeout: HANGS });
  await page.unroute("**/uploads/*");
  assert.equal((await append(url, 0, bytes.subarray(0, 12345))).status(), 204);
  await page.goto(`${transfer}/intake`);
  await comes(() => page.locator("#broken").innerText(), /again\.wav \(12\.3 kB of/);
  const patched = page.waitForRequest(r => r.method() === "PATCH");
  await drop();
  const request = await patched;
  assert.equal(new URL(request.url()).pathname, url);
  assert.equal(request.headers()["upload-offset"], "12345");
  await page.waitForFunction(() => document.getElementById("items")?.innerText.includes("again.wav"), null, { timeout: 30000 });
});

test("stop all stops the file that goes up and those whose turn has not come, and nothing of them stays", async () => {
  await page.goto(`${transfer}/intake`);
  await page.waitForLoadState("load");
  // What came in before is still measured, and that can make a revision.
  await page.waitForFunction(() => document.body.dataset.settled === "yes", null, { timeout: HANGS });
  const before = await revision(page);
  let held;
  const goesUp = new Promise(resolve => (held = resolve));
  await page.route("**/uploads/*", route => (route.request().method() === "PATCH" ? held() : route.continue()));
  await dropOn(
    page,
    [1, 2, 3, 4, 5].map(n => [`held-${n}.wav`, new Uint8Array(5000)]),
  );
  await page.waitForSelector("#all-files");
  await goesUp;
  const taken = page.waitForResponse(r => r.request().method() === "DELETE" && r.url().includes("/uploads/"));
  await page.locator("#all-files button").click();
  await taken;
  await page.waitForFunction(() => document.querySelectorAll("#under-way .flag").length === 5 && !document.getElementById("all-files"));
  await page.unrouteAll({ behavior: "ignoreErrors" });
  await page.goto(`${transfer}/intake`);
  await comes(() => page.locator("#broken").count(), 0);
  assert.equal(await revision(page), before);
});

test("an upload is refused by a bad name, a lie about its length, or a batch that is not there", async () => {
  const batch = (await (await page.request.post(`${transfer}/batches`, { headers: tus })).json()).id;
  const evil = await begin("../../evil.wav", 10, batch);
  assert.equal(evil.status(), 400);
  assert.match(await evil.text(), /climbs out/);
  assert.equal((await begin("a.wav", 10, "00000000-0000-0000-0000-000000000000")).status(), 404);
  const url = (await begin("a.wav", 10, batch)).headers().location;
  assert.equal((await append(url, 0, Buffer.alloc(11))).status(), 413);
  assert.equal((await page.request.fetch(`${address}${url}`, { method: "DELETE", headers: tus })).status(), 204);
  assert.equal((await page.request.fetch(`${address}${url}`, { method: "HEAD", headers: tus })).status(), 404);
});

test("files that broke off can be forgotten, and leave nothing", async () => {
  const batch = (await (await page.request.post(`${transfer}/batches`, { headers: tus })).json()).id;
  const url = (await begin("never.wav", 1000, batch)).headers().location;
  assert.equal((await append(url, 0, Buffer.alloc(10))).status(), 204);
  await page.goto(`${transfer}/intake`);
  await comes(() => page.locator("#broken").innerText(), /never\.wav/);
  await page.click("#forget");
  await page.waitForFunction(() => !document.getElementById("broken"));
  assert.ok(!existsSync(join(data, "store", "incoming", url.split("/").at(-1).replaceAll("-", ""))));
});

test("a build can be stopped, and leaves no package", async () => {
  const build = await stage(page, "Orrery Suite", "build");
  await page.goto(build);
  const before = readdirSync(join(data, "packages"), { recursive: true }).sort();
  await page.click("#build");
  await page.click("#stop");
  await page.waitForSelector('#state[data-state="Stopped"]');
  assert.deepEqual(readdirSync(join(data, "packages"), { recursive: true }).sort(), before);
});

test("a build whose process is killed goes on after the next start, and no half file is offered", async () => {
  const build = await stage(page, "Orrery Suite", "build");
  await page.goto(build);
  await page.click("#build");
  await page.waitForSelector('#state[data-state="Working"]');
  process.kill(Number(readFileSync(join(data, "web.pid"), "utf8")), "SIGKILL");
  await new Promise(done => setTimeout(done, 300));
  execFileSync(join(root, "lyrotrans"), ["start"], { stdio: "ignore" });
  // The page that stood open goes on by itself.
  await page.waitForSelector('#state[data-state="Done"]', { timeout: HANGS });
  await comes(() => page.locator("#stages").innerText(), /passed, revision/);
  await page.goto(build.replace(/build$/, "proof"));
  await comes(() => page.locator("#verdict").getAttribute("data-passed"), "yes");
  const href = await page.locator("#download").getAttribute("href");
  const zip = await (await page.request.get(address + href)).body();
  await page.goto(build.replace(/build$/, "handover"));
  await comes(() => page.locator("#packages").innerText(), new RegExp(manifestSum(zip)));
});

test("an intake whose process is killed goes on after the next start, with every file", async () => {
  await page.goto(address);
  await page.fill("input[name=Name]", "Killed on the way in");
  await page.click("button.main");
  await page.waitForURL(/\/intake$/);
  const here = page.url().replace(/\/intake$/, ""),
    folder = join(demo, "stamped"),
    names = readdirSync(folder).sort();
  const batch = (await (await page.request.post(`${here}/batches`, { headers: tus })).json()).id;
  for (const name of names) {
    // A byte of silence more at the end, so that none of them is in the store already.
    const bytes = Buffer.concat([readFileSync(join(folder, name)), Buffer.from([0])]);
    const url = (await begin(name, bytes.length, batch)).headers().location;
    assert.equal((await append(url, 0, bytes)).status(), 204);
  }
  const incoming = () => readdirSync(join(data, "store", "incoming")).length,
    waiting = incoming();
  assert.equal((await page.request.post(`${address}/batches/${batch}/finish`, { headers: tus })).status(), 204);
  while (incoming() === waiting) await new Promise(done => setTimeout(done, 2));
  process.kill(Number(readFileSync(join(data, "web.pid"), "utf8")), "SIGKILL");
  const left = incoming();
  await new Promise(done => setTimeout(done, 300));
  execFileSync(join(root, "lyrotrans"), ["start"], { stdio: "ignore" });
  await page.goto(`${here}/intake`);
  await until(async () => (await (await page.request.get(`${here}/intake`)).text()).includes('id="items"'), "the list of files");
  await page.reload();
  const table = await page.locator("#items").innerText();
  for (const name of names)
    assert.ok(table.includes(name), `${name} is missing (${left} of ${waiting} files were left when it was killed)`);
  assert.equal(incoming(), waiting - names.length);

  // Until its sound is measured the page goes on asking, and would ask a server that is stopped.
  await page.waitForFunction(() => document.body.dataset.settled === "yes", null, { timeout: HANGS });
});

test("a build whose workers are killed goes on with the next ones, while the pages stay", async () => {
  const lyrotrans = (...words) => execFileSync(join(root, "lyrotrans"), words, { stdio: "ignore" });
  const pid = n => Number(readFileSync(join(data, `worker-${n}.pid`), "utf8"));
  lyrotrans("stop");
  lyrotrans("start", "--workers", "2");
  const build = await stage(page, "Orrery Suite", "build");
  await page.goto(build);
  await page.click("#build");
  await page.waitForSelector('#state[data-state="Working"]');
  const pages = readFileSync(join(data, "web.pid"), "utf8");
  process.kill(pid(1), "SIGKILL");
  process.kill(pid(2), "SIGKILL");
  await new Promise(done => setTimeout(done, 300));
  lyrotrans("start", "--workers", "2");
  await page.waitForSelector('#state[data-state="Done"]', { timeout: HANGS });
  await comes(() => page.locator("#stages").innerText(), /passed, revision/);
  assert.equal(readFileSync(join(data, "web.pid"), "utf8"), pages);
  lyrotrans("stop");
  lyrotrans("start");
  await page.goto(build);
  await comes(() => page.locator("#state").getAttribute("data-state"), "Done");
});

test("a data folder that only its owner may enter keeps its database from one start to the next", async () => {
  // Closed from the beginning: the database's user cannot pass through it before the start opens it.
  const closed = mkdtempSync(join(tmpdir(), "lyro-closed-")),
    port = Number(new URL(address).port) + 7,
    there = `http://127.0.0.1:${port}`;
  const database = Number(process.env.LYRO_DB_PORT) + 7;
  const env = { ...process.env, LYRO_DATA: closed, LYRO_PORT: String(port), LYRO_DB_PORT: String(database), LYRO_DEMO: "no" };
  const lyrotrans = word => execFileSync(join(root, "lyrotrans"), [word], { env, stdio: "ignore" });
  const another = await open();
  try {
    lyrotrans("start");
    await another.page.goto(`${there}/open-a-room`);
    for (const [field, value] of [
      ["Room", "Lantern Street"],
      ["EngineerName", "Engineer"],
      ["Email", "engineer@tarnlane.example"],
      ["Password", "ferry weir cobble plum"],
    ])
      await another.page.fill(`input[name=${field}]`, value);
    await another.page.click("button.main");
    await another.page.waitForURL(`${there}/`);
    lyrotrans("stop");
    lyrotrans("start");
    await another.page.goto(there);
    await comes(() => another.page.locator("body").innerText(), /Lantern Street/);
  } finally {
    await another.context.close();
    lyrotrans("stop");
    rmSync(closed, { recursive: true });
  }
});

test("a taken port is said, and the data folder is what it was", () => {
  const port = new URL(address).port;
  assert.throws(
    () =>
      execFileSync(join(root, "lyrotrans"), ["start"], {
        env: { ...process.env, LYRO_DATA: join(work, "second"), LYRO_PORT: port },
        stdio: "pipe",
      }),
    e => /Port \d+ is taken/.test(e.stderr.toString()),
  );
  assert.ok(!existsSync(join(work, "second", "web.pid")));
});
