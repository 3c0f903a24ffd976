// The whole job in the browser: sign in, begin a transfer, drop the demo's files, survey, prepare, build, proof, download.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { createHash } from "node:crypto";
import { execFileSync } from "node:child_process";
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import * as desk from "./desk.mjs";
import { comes, HANGS, address, demoFiles, files, manifestSum, open, root, signIn, work } from "./desk.mjs";

const demo = demoFiles();
let context, page, problems, transfer;

before(async () => {
  ({ context, page, problems } = await open());
});
after(async () => {
  await context.close();
});

const drop = (list, base) => desk.drop(page, list, base),
  waitForRevision = number => desk.waitForRevision(page, number),
  makesRevision = action => desk.makesRevision(page, action),
  revision = () => desk.revision(page);

test("nothing is seen without signing in", async () => {
  for (const path of [
    "/",
    "/transfers/00000000-0000-0000-0000-000000000000/survey",
    "/builds/00000000-0000-0000-0000-000000000000/package",
  ]) {
    await page.goto(address + path);
    assert.match(page.url(), /\/sign-in/);
  }
  const answer = await page.request.post(`${address}/uploads`, { maxRedirects: 0 });
  assert.ok([302, 401].includes(answer.status()));
  await page.goto(`${address}/sign-in`);
  await page.fill("input[name=Email]", "engineer@quillfeather.example");
  await page.fill("input[name=Password]", "not the password");
  await page.click("button.main");
  await comes(() => page.locator("#wrong").innerText(), /wrong/);
});

test("a transfer is begun and the demo's files are dropped", async () => {
  await signIn(page);
  await page.fill("input[name=Name]", "Journey");
  await page.fill("input[name=Receiver]", "Tarn Lane mixing room");
  await page.click("button.main");
  await page.waitForURL(/\/intake$/);
  transfer = page.url().replace(/\/intake$/, "");
  await drop(files(join(demo, "session")), join(demo, "session"));
  await waitForRevision(1);
  await comes(() => page.locator("#missing").innerText(), /choir\.wav/);
  await comes(() => page.locator(".facts").innerText(), /48\s000 Hz[\s\S]*28/);
});

test("bad files are named and what was good stays", async () => {
  const bad = join(work, "bad");
  mkdirSync(bad, { recursive: true });
  writeFileSync(join(bad, "empty.wav"), "");
  writeFileSync(join(bad, "text.wav"), "this is only text");
  writeFileSync(join(bad, "broken.zip"), "PK\x03\x04 and then nothing");
  await drop(files(bad), bad);
  await waitForRevision(2);
  await comes(() => page.locator("#items").innerText(), /empty\.wav[\s\S]*0 bytes/);
  await comes(() => page.locator("#items").innerText(), /its content is not that/);
  await comes(() => page.locator("#items").innerText(), /archive is damaged/);
  await comes(() => page.locator(".facts").innerText(), /28/);
  // Undo takes them out again.
  await page.keyboard.press("u");
  await page.waitForFunction(() => document.getElementById("revision")?.textContent.trim() === "1");
  await page.waitForSelector("#items");
  assert.doesNotMatch(await page.locator("#items").innerText(), /text\.wav/);
});

test("survey shows clips and flags, goes where one types, and keeps the exact numbers", async () => {
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#chart[data-ready]");
  await comes(
    () => page.locator("#flags button").count(),
    n => n > 10,
  );
  await page.fill("#position input[name=bars]", "1.1.0");
  await page.press("#position input[name=bars]", "Enter");
  await page.waitForFunction(() => document.querySelector("#position input[name=samples]").value.replace(/\s/g, "") === "31304");
  await comes(() => page.inputValue("#position input[name=timecode]"), "10:00:00:16 +584");
  await page.press("#position input[name=bars]", "Escape");
  await page.locator("#chart").focus();
  await page.keyboard.press("]");
  await page.waitForFunction(() => document.querySelector("#selected h2").textContent.includes("clip 1"));
  const shown = await page.locator("#selected").innerText();
  const session = JSON.parse(readFileSync(join(demo, "session", "Orrery_Suite.session.json")));
  const clip = session.tracks[0].lanes[0].clips[0];
  assert.ok(shown.replace(/\s/g, "").includes(`start${clip.start}`), shown);
  assert.ok(shown.replace(/\s/g, "").includes(`length${clip.length}`), shown);
  await page.keyboard.press("f");
  await page.waitForSelector("#flags li.on");
  for (let i = 0; i < 30; i++) await page.keyboard.press("+");
  const drawn = await page.evaluate(() => {
    const c = document.getElementById("chart");
    return new Set(c.getContext("2d").getImageData(0, 0, c.width, c.height).data).size;
  });
  assert.ok(drawn > 20);
});

test("prepare: names, treatment, range and format are revisions, and undo takes one back", async () => {
  await page.goto(`${transfer}/prepare`);
  const row = name => page.locator(`#rows tr[data-name="${name}"]`);
  await makesRevision(() => row("Guide piano").locator("select[name=channels]").selectOption("mono"));
  await makesRevision(async () => {
    await row("Cello").locator("input[name=name]").fill("Cello: solo");
    await row("Cello").locator("input[name=name]").press("Tab");
  });
  await comes(() => row("Cello").locator("input[name=name]").inputValue(), "03_Cello-_solo");
  // Edited as it stands, the number is not taken for a part of the name.
  await makesRevision(async () => {
    await row("Cello").locator("input[name=name]").fill("03_Cello-_solo B");
    await row("Cello").locator("input[name=name]").press("Tab");
  });
  await comes(() => row("Cello").locator("input[name=name]").inputValue(), "03_Cello-_solo_B");
  await makesRevision(() => page.keyboard.press("u"));
  await makesRevision(() => page.locator("select[name='files.from']").selectOption("bar 1"));
  await comes(() => page.locator("#cut").innerText(), /cuts 31\s304 samples/);
  await makesRevision(() => page.keyboard.press("u"));
  await comes(() => page.locator("#cut").count(), 0);
  await comes(() => page.locator("select[name='files.from']").inputValue(), "session start");
  await row("Harp").locator(".here").click();
  // Notes, notes and print, held back, and round again.
  await makesRevision(() => page.keyboard.press("t"));
  await comes(() => row("Harp").locator("select[name=treatment]").inputValue(), "notes and print");
  await makesRevision(() => page.keyboard.press("t"));
  assert.ok(await row("Harp").evaluate(r => r.classList.contains("heldrow")));
  await makesRevision(() => page.keyboard.press("t"));
  assert.ok(await row("Harp").evaluate(r => !r.classList.contains("heldrow")));
  await makesRevision(() => page.locator("select[name='files.container']").selectOption("flac"));
  const now = await revision();
  await page.locator("select[name='files.encoding']").selectOption("float 32");
  await page.waitForFunction(() => !document.getElementById("notice").hidden);
  await comes(() => page.locator("#notice").innerText(), /FLAC holds no float/);
  await page.waitForFunction(() => document.querySelector("select[name='files.encoding']").value === "integer 24");
  assert.equal(await revision(), now);
  await makesRevision(() => page.locator("select[name='files.container']").selectOption("wav"));
});

test("what is pressed or chosen while a page still loads is done once it stands", async () => {
  for (const act of [
    () => page.locator('#rows tr[data-name="Guide piano"] select[name=channels]').selectOption({ index: 0 }),
    () => page.locator("#undo").dispatchEvent("click"),
  ]) {
    // The program that minds the forms comes late, as on a slow line; what it minds is there before it.
    let arrive;
    const late = new Promise(done => (arrive = done));
    await page.route("**/lib/htmx.min.js", async route => {
      await late;
      await route.continue();
    });
    await page.goto(`${transfer}/prepare`, { waitUntil: "commit" });
    await page.waitForSelector("#newer", { state: "attached" });
    const before = await revision();
    await act();
    assert.equal(new URL(page.url()).search, "", "no form went by itself");
    arrive();
    await page.waitForFunction(n => Number(document.getElementById("revision")?.textContent ?? n) !== n, before);
    await page.unrouteAll({ behavior: "wait" });
  }
});

test("a second editor is told, and nothing is overwritten", async () => {
  await page.goto(`${transfer}/prepare`);
  const other = await context.newPage();
  await other.goto(`${transfer}/prepare`);
  await other.locator('#rows tr[data-name="Bell"] select[name=treatment]').selectOption("hold back");
  await other.waitForFunction(() => document.querySelector('#rows tr[data-name="Bell"]').classList.contains("heldrow"));
  // The page that stands open says so as soon as it is looked at, before anyone types into it.
  await comes(() => other.locator("#newer").innerText(), "");
  await page.evaluate(() => window.dispatchEvent(new Event("focus")));
  await page.waitForFunction(() => /made revision \d+: Bell: hold back\..*Load it/s.test(document.getElementById("newer").textContent));
  await page.locator('#rows tr[data-name="Bell"] select[name=channels]').selectOption("stereo");
  await page.waitForFunction(() => !document.getElementById("notice").hidden);
  await comes(() => page.locator("#notice").innerText(), /made revision \d+ in the meantime \(Bell: hold back\)/);
  await page.goto(`${transfer}/prepare`);
  await comes(() => page.locator('#rows tr[data-name="Bell"].heldrow').count(), 1);
  await page.keyboard.press("u");
  await page.waitForFunction(() => !document.querySelector('#rows tr[data-name="Bell"]').classList.contains("heldrow"));
  await other.close();
});

test("a question that a page asks again says nothing of one answer that did not come", async () => {
  // Its own page: a failed request stands in the console.
  const own = await context.newPage();
  await own.goto(`${transfer}/intake`);
  await own.evaluate(() => (window.stays = true));
  for (const spoil of [route => route.abort(), route => route.fulfill({ status: 500, body: "away" })]) {
    await own.route("**/newer?*", spoil);
    const asked = own.waitForEvent("requestfinished", r => r.url().includes("/newer")).catch(() => null);
    const failed = own.waitForEvent("requestfailed", { predicate: r => r.url().includes("/newer"), timeout: 3000 }).catch(() => null);
    await own.evaluate(() => window.dispatchEvent(new Event("focus")));
    await Promise.race([asked, failed]);
    await own.unroute("**/newer?*");
  }
  // Intake loads itself anew 5 s after a change that failed.
  await own.waitForTimeout(5500);
  assert.ok(await own.evaluate(() => window.stays && document.getElementById("notice").hidden));
  await own.close();
});

test("build lists the files first, the proof passes, and the zip's hashes match", async () => {
  await page.goto(`${transfer}/build`);

  await comes(
    () => page.locator("#planned td.n").allInnerTexts(),
    all => all.some(t => t.includes("03_Cello-_solo.wav")),
  );
  await page.locator('#carry tr[data-kind="Crossfades"]').click();
  await page.waitForSelector("#which table tr");
  await page.click("#build");
  await page.waitForSelector('#state[data-state="Done"]', { timeout: HANGS });
  await page.goto(`${transfer}/proof`);
  await comes(() => page.locator("#verdict").getAttribute("data-passed"), "yes");
  await comes(() => page.locator("#verdict").innerText(), /All \d+ clips arrive on their sample/);
  await page.waitForSelector("#rows .row:not(.headrow)");
  await page.selectOption("#which-rows", "stated");
  await comes(() => page.locator("#rows").innerText(), /the package's own word/);
  await page.selectOption("#which-rows", "all");
  const download = page.waitForEvent("download");
  await page.click("#download");
  const zip = join(work, "journey.zip");
  await (await download).saveAs(zip);
  const out = join(work, "journey");
  mkdirSync(out, { recursive: true });
  execFileSync("python3", ["-c", "import sys,zipfile; zipfile.ZipFile(sys.argv[1]).extractall(sys.argv[2])", zip, out]);
  const home = join(out, "Orrery_Suite"),
    manifest = JSON.parse(readFileSync(join(home, "manifest.json")));
  assert.ok(manifest.files.length > 15);
  for (const file of manifest.files) {
    const bytes = readFileSync(join(out, file.path));
    assert.equal(createHash("sha256").update(bytes).digest("hex"), file.sha256);
    assert.equal(bytes.length, file.bytes);
  }
  execFileSync("sha256sum", ["--check", "--quiet", "SHA256SUMS"], { cwd: home });
  assert.equal(manifest.preparation.tracks.find(t => t.track === "guide-piano").channels, "mono");
  await page.goto(`${transfer}/handover`);
  await comes(() => page.locator("#packages").innerText(), new RegExp(manifestSum(readFileSync(zip))));
});

test("the proof that the screen showed is what the command line finds in the package", () => {
  const said = execFileSync(join(root, "lyro"), ["proof", join(work, "journey.zip"), "--against", join(demo, "session")], {
    encoding: "utf8",
  });
  assert.match(said, /All \d+ clips arrive on their sample/);
});

test("time-stamped files and MIDI make a session too, and a placement can be changed", async () => {
  await page.goto(address);
  await page.fill("input[name=Name]", "Stamped");
  await page.click("button.main");
  await page.waitForURL(/\/intake$/);
  const here = page.url();
  await drop(files(join(demo, "stamped")), join(demo, "stamped"));
  await waitForRevision(1);
  await comes(() => page.locator(".facts").innerText(), /10:00:00:00/);
  const bell = page.locator("#items tr", { hasText: "bell.wav" });
  await comes(() => bell.innerText(), /by its time stamp/);
  await bell.locator("select").selectOption("session start");
  await waitForRevision(2);
  await comes(() => page.locator("#items tr", { hasText: "bell.wav" }).innerText(), /at session start/);
  await page.goto(here.replace(/intake$/, "survey"));
  await page.waitForSelector("#chart[data-ready]");
  assert.ok(await page.evaluate(() => document.getElementById("chart").chart.survey.tracks.some(t => t.notes.length > 10)));
});

test("a zip is unpacked, and one that climbs out is refused whole", async () => {
  const zips = join(work, "zips");
  mkdirSync(zips, { recursive: true });
  execFileSync("python3", [
    "-c",
    `
import sys,zipfile
z=zipfile.ZipFile(sys.argv[1]+"/good.zip","w"); z.write(sys.argv[2],"inside/bells.wav"); z.close()
z=zipfile.ZipFile(sys.argv[1]+"/evil.zip","w"); z.writestr("../evil.wav","x"); z.close()`,
    zips,
    join(demo, "bells", "media", "three-bells.wav"),
  ]);
  await page.goto(address);
  await page.fill("input[name=Name]", "Zips");
  await page.click("button.main");
  await page.waitForURL(/\/intake$/);
  await drop(files(zips), zips);
  await waitForRevision(1);
  await comes(() => page.locator("#items").innerText(), /bells\.wav/);
  await comes(() => page.locator("#items").innerText(), /evil\.zip[\s\S]*climbs out/);
});

test("another room sees nothing of it", async () => {
  const stranger = await open();
  await stranger.page.goto(`${address}/open-a-room`);
  await stranger.page.fill("input[name=Room]", "Tarn Lane mixing room");
  await stranger.page.fill("input[name=EngineerName]", "Receiving engineer");
  await stranger.page.fill("input[name=Email]", `engineer-${Date.now()}@tarnlane.example`);
  await stranger.page.fill("input[name=Password]", "a long enough password");
  await stranger.page.click("button.main");
  await stranger.page.waitForURL(`${address}/`);
  await comes(() => stranger.page.locator("#transfers tbody tr").count(), 0);
  for (const path of ["survey", "prepare", "survey.json", "position?kind=samples&text=0"])
    assert.equal((await stranger.page.request.get(`${transfer}/${path}`)).status(), 404);
  await stranger.context.close();
});

test("no script broke and nothing was blocked on the way", () => {
  // Refusals that the tests provoked on purpose answer with an error status, which the browser notes too.
  assert.deepEqual(
    problems.filter(p => !/status of 4\d\d|Response Status Error Code 4\d\d/.test(p)),
    [],
  );
});
