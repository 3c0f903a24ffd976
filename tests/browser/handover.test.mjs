// Both sides of a handover: a listening round, a link, the page without an account, sums, a word, what comes back; and a folder.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { execFileSync, spawnSync } from "node:child_process";
import { createHash, createPublicKey, verify } from "node:crypto";
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import {
  comes,
  HANGS,
  address,
  begin,
  demoFiles,
  drop,
  files,
  open,
  passes,
  root,
  signIn,
  violations,
  waitForRevision,
  work,
} from "./desk.mjs";

const look = process.env.LYRO_LOOK;
let sender, receiver, third, transfer, path, folder;
before(async () => {
  [sender, receiver] = [await open(), await open()];
  await signIn(sender.page);
  transfer = await begin(sender.page, "Orrery Suite, handed over");
  const demo = join(demoFiles(), "session");
  await drop(sender.page, files(demo), demo);
  await waitForRevision(sender.page, 1);
  await sender.page.goto(`${transfer}/prepare`);
  await passes(sender.page, transfer);
  folder = mkdtempSync(join(work, "received-"));
});
after(async () => {
  await Promise.all([sender, receiver, third].map(side => side?.context.close()));
  rmSync(folder, { recursive: true });
});
const shot = (page, name) => (look ? page.screenshot({ path: join(look, `${name}.png`) }) : null);
const rows = page => page.locator("#round-files tbody tr");

test("every file is listened to by keys, what is heard and what is wrong is said, and it is taken back", async () => {
  const { page } = sender;
  await page.goto(`${transfer}/handover`);
  await page.locator("#packages a", { hasText: "listen to it" }).first().click();
  await page.waitForSelector("#now-places button");
  await comes(() => page.locator("#heard-words").innerText(), /None of \d+ files was listened to/);
  const first = await page.locator("#now-name").innerText();
  await page.keyboard.press("a");
  await page.waitForFunction(() => document.body.dataset.listening === "yes", null, { timeout: HANGS });
  await page.keyboard.press("s");
  await comes(() => page.locator('[data-what="meant"]').getAttribute("aria-pressed"), "true");
  await page.waitForFunction(() => document.body.dataset.listening === "yes", null, { timeout: HANGS });
  const before = await page.locator("#now-at").innerText();
  await page.keyboard.press("j");
  await page.waitForFunction(was => document.getElementById("now-at").innerText !== was, before);
  await page.keyboard.press("h");
  await page.waitForFunction(was => document.getElementById("now-name").innerText !== was, first);
  await page.waitForFunction(() => /1 of \d+ files heard, by .* \(1\); no fault/.test(document.getElementById("heard-words").innerText));
  await page.waitForSelector("#now-places button");
  await page.locator("#now-places button", { hasText: "peak" }).click();
  await page.keyboard.press("f");
  await page.keyboard.type("a crackle");
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => /1 fault marked/.test(document.getElementById("heard-words").innerText));
  await comes(() => rows(page).nth(1).innerText(), /a crackle/);
  await shot(page, "round");
  assert.deepEqual(await violations(sender), []);
  await rows(page)
    .nth(1)
    .getByRole("button", { name: /Take back/ })
    .click();
  await page.waitForFunction(() => /no fault/.test(document.getElementById("heard-words").innerText));
  await page.goto(`${transfer}/handover`);
  await comes(() => page.locator("#packages").innerText(), /1 file heard, no fault/);
});

test("the package is read back as its receiver would read it, and what would sound otherwise is heard before it goes", async () => {
  const { page } = sender;
  await page.goto(`${transfer}/handover`);
  await page.locator("#packages [data-rehearse]").first().click();
  await page.waitForSelector("#read");
  const read = async () => {
    await page.click("#read");
    await page.waitForFunction(() => document.getElementById("rehearsal").dataset.state === "Done", null, { timeout: 2 * HANGS });
  };
  await read();
  await comes(() => page.locator("#rehearsed").innerText(), /everything is where it was sent and sounds as it was sent/);
  await page.getByLabel("channels after the first").check();
  await page.fill("#limits input[name=longest]", "8");
  const done = page.waitForResponse(r => r.url().includes("handler=Read"));
  await page.click("#read");
  await done;
  await page.waitForSelector("#sounds tbody tr", { timeout: 2 * HANGS });
  await comes(() => page.locator("#rehearsed").innerText(), /tracks sound otherwise\.[^]*other names/);
  const row = page.locator("#sounds tbody tr").first();
  await comes(() => row.innerText(), /−?\d+\.\d[^]*10:00:\d\d:\d\d[^]*as sent/);
  for (const what of ["sent", "read", "difference"]) {
    await row.locator(`[data-hear=${what}]`).click();
    await page.waitForFunction(() => document.body.dataset.listening === "yes", null, { timeout: HANGS });
    await comes(() => row.locator(`[data-hear=${what}]`).getAttribute("aria-pressed"), "true");
  }
  await row.locator("[data-hear=difference]").click();
  await page.waitForFunction(() => !document.body.dataset.listening);
  await shot(page, "rehearse");
  assert.deepEqual(await violations(sender), []);
  await page.goto(`${transfer}/handover`);
  await comes(() => page.locator("#packages").innerText(), /reads otherwise/);
});

test("a link is made, shown once, and opens the receiver's page without an account", async () => {
  const { page } = sender;
  await page.goto(`${transfer}/handover`);
  await page.fill("#offer input[name=for]", "Tarn Lane mixing room");
  await page.fill("#offer input[name=passphrase]", "ferry weir cobble");
  await page.click("#make-link");
  await page.waitForSelector("#offered");
  path = new URL(await page.inputValue("#link")).pathname;
  await page.reload();
  await comes(() => page.locator("#offered").count(), 0);
  assert.ok(!(await page.content()).includes(path));
  await receiver.page.goto(address + path);
  await receiver.page.fill("input[name=passphrase]", "something else");
  await receiver.page.click("button.main");
  await receiver.page.waitForSelector("#wrong");
  await receiver.page.fill("input[name=passphrase]", "ferry weir cobble");
  await receiver.page.click("button.main");
  await receiver.page.waitForSelector("#steps li");
  await comes(
    () => receiver.page.locator("#steps").innerText(),
    /New session at 48\s000 Hz, 25 frames, start 10:00:00:00\.[^]*Import Orrery_Suite\.mid[^]*files in audio[^]*Check a few places/,
  );
  await comes(() => receiver.page.locator("#points").innerText(), /Cello\s+first: /);
  await comes(() => receiver.page.locator("#left").innerText(), /held back/);
  await comes(() => receiver.page.locator("#verdict").innerText(), /Proved: All \d+ clips arrive on their sample/);
});

test("the receiver's page is clean for assistive technology on a desk and on a phone, and nothing is wider than the screen", async () => {
  for (const [width, height] of [
    [1280, 800],
    [390, 844],
  ]) {
    await receiver.page.setViewportSize({ width, height });
    await receiver.page.goto(address + path);
    await receiver.page.waitForSelector("#files tbody tr");
    assert.deepEqual(await violations(receiver), [], `at ${width}`);
    const wide = await receiver.page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
    assert.ok(wide <= 0, `${wide} px wider than ${width}`);
    await shot(receiver.page, `receive-${width}`);
  }
  await receiver.page.setViewportSize({ width: 1280, height: 800 });
});

// A file of sound that says nothing of itself, so many samples later than it was, or without its first ones.
function plain(file, later) {
  const at = file.indexOf("data", 36, "latin1") + 8,
    fmt = Buffer.from(file.subarray(file.indexOf("fmt ", 0, "latin1"), file.indexOf("fmt ", 0, "latin1") + 24)),
    frame = fmt.readUInt16LE(20);
  fmt.writeUInt32LE(16, 4);
  const sound = file.subarray(at, at + file.readUInt32LE(at - 4));
  const data = later < 0 ? sound.subarray(-later * frame) : Buffer.concat([Buffer.alloc(later * frame), sound]);
  const [head, sized] = [Buffer.from("RIFF    WAVE", "latin1"), Buffer.from("data    ", "latin1")];
  head.writeUInt32LE(4 + fmt.length + 8 + data.length, 4);
  sized.writeUInt32LE(data.length, 4);
  return Buffer.concat([head, fmt, sized, data]);
}

test("what was exported again is held to what was sent, in samples, and both sides see it", async () => {
  const { page } = receiver;
  const zip = join(folder, "for-arrived.zip"),
    unpacked = join(folder, "for-arrived");
  writeFileSync(zip, await (await receiver.context.request.get(`${address}${path}/package`)).body());
  execFileSync("python3", ["-m", "zipfile", "-e", zip, unpacked]);
  const audio = readdirSync(unpacked, { recursive: true }).filter(f => /audio\/.*\.wav$/.test(f));
  const cello = audio.find(f => /Cello/.test(f)),
    moved = join(unpacked, cello);
  // Another program's file of the cello: without any name or stamp of ours, and 96 samples late.
  const renamed = join(folder, "strings 3.wav");
  writeFileSync(renamed, plain(readFileSync(moved), 96));
  writeFileSync(join(folder, "cello tuned.wav"), plain(readFileSync(moved), -4800));
  const others = audio.filter(f => f !== cello && !/Hall_L/.test(f)).map(f => join(unpacked, f));
  await page.goto(address + path);
  await page.setInputFiles("#again input", [renamed, ...others]);
  await page.waitForSelector(".arrival .outcome", { timeout: 4 * HANGS });
  await comes(() => page.locator("#arrivals").innerText(), /1 clip missing\./);
  await comes(() => page.locator("#arrivals").innerText(), /Cello[^\n]*start[^\n]*\+96/);
  await comes(() => page.locator("#arrivals").innerText(), /Hall_L[^\n]*not there/);
  await comes(() => page.locator("#arrivals").innerText(), /Not compared: tempo, meters and notes: no MIDI came/);
  assert.deepEqual(await violations(receiver), []);
  await page.locator("#arrived").evaluate(e => e.scrollIntoView());
  await shot(page, "arrived");

  // The notes alone, as they went.
  const midi = readdirSync(unpacked, { recursive: true }).find(f => f.endsWith(".mid"));
  await page.setInputFiles("#again input", [join(unpacked, midi)]);
  await page.waitForFunction(() => document.querySelectorAll(".arrival .outcome").length === 2, null, { timeout: 4 * HANGS });
  await comes(() => page.locator(".arrival .outcome").first().innerText(), /What was compared arrived as sent\./);

  await sender.page.goto(`${transfer}/handover`);
  await shot(sender.page, "arrived-sender");

  // What is none of it is refused in words, and nothing of it stays.
  const none = join(folder, "none.wav");
  writeFileSync(none, "not a sound");
  await page.setInputFiles("#again input", [none]);
  await page.waitForSelector(".arrival p.flag:not(.outcome)", { timeout: 4 * HANGS });
  await comes(() => page.locator(".arrival").first().innerText(), /What came: There is nothing in it that can be read/);
  assert.ok(!(await page.content()).includes("/returns/"), "the server's folders are shown");
  await sender.page.goto(`${transfer}/handover`);
  await comes(() => sender.page.locator("[data-compared]").innerText(), /1 clip missing/);
  await comes(() => sender.page.locator("[data-compared]").innerText(), /What was compared arrived as sent/);
  await comes(() => sender.page.locator("[data-returned]").count(), 0);
  assert.deepEqual(await violations(sender), []);
});

test("every sound is heard and seen", async () => {
  const { page } = receiver;
  const place = page.locator("#files [data-outline]").first();
  await place.scrollIntoViewIfNeeded();
  await page.waitForFunction(() => document.querySelector("#files [data-outline] svg").dataset.drawn === "yes", null, { timeout: HANGS });
  await place.getByRole("button").click();
  await page.waitForFunction(() => document.body.dataset.listening === "yes", null, { timeout: HANGS });
  await page.waitForSelector("#files .played", { state: "attached" });
  await place.getByRole("button").click();
  await page.waitForFunction(() => document.body.dataset.listening !== "yes");
});

test("what was fetched is held to its sums in the browser: the zip, single files, and one that is damaged", async () => {
  const { page } = receiver;
  const fetched = page.waitForEvent("download");
  await page.click("#download");
  const zip = join(folder, "package.zip");
  await (await fetched).saveAs(zip);
  const ended = async chosen => {
    await page.evaluate(() => delete document.getElementById("check-state").dataset.ended);
    await page.setInputFiles("#check input", chosen);
    await page.waitForFunction(() => document.getElementById("check-state").dataset.ended === "yes", null, { timeout: HANGS });
    return page.locator("#check-state").innerText();
  };
  assert.match(await ended(zip), /^All \d+ files are whole: the same bytes that were sent\.$/);
  const sent = await page.locator("#files tbody tr").count();
  await comes(() => page.locator("#files td.state.whole").count(), sent);
  await shot(page, "receive-checked");

  // Another program unpacks it; a bit of one file is turned over, one is renamed, and one is of elsewhere.
  mkdirSync(join(folder, "out"));
  execFileSync("python3", ["-m", "zipfile", "-e", zip, join(folder, "out")]);
  const all = readdirSync(join(folder, "out"), { recursive: true }),
    place = name =>
      join(
        folder,
        "out",
        all.find(f => f.endsWith(name)),
      );
  const bad = readFileSync(place("SHA256SUMS"));
  bad[5] ^= 1;
  writeFileSync(join(folder, "SHA256SUMS"), bad);
  writeFileSync(join(folder, "else.txt"), "of elsewhere");
  writeFileSync(join(folder, "bell of mine.mid"), readFileSync(place("Orrery_Suite.mid")));
  await page.reload();
  const words = await ended([place("manifest.json"), ...["SHA256SUMS", "else.txt", "bell of mine.mid"].map(f => join(folder, f))]);
  assert.match(
    words,
    /^2 of \d+ files whole\. 1 differs: fetch it again\. \d+ not among what you dropped\. 1 of what you dropped not of this package\.$/,
  );
  const cut = readFileSync(zip).subarray(0, 200000);
  writeFileSync(join(folder, "cut.zip"), cut);
  assert.match(await ended(join(folder, "cut.zip")), /no whole zip file; fetch it again/);

  // The sums that the browser held them to are those of the bytes, by another program.
  const listed = await (await page.request.get(`${address}${path}/sums.json`)).json();
  for (const { path: at, sha256 } of listed)
    assert.equal(
      createHash("sha256")
        .update(readFileSync(join(folder, "out", at)))
        .digest("hex"),
      sha256,
    );
});

test("a download goes on from where it stopped", async () => {
  const whole = readFileSync(join(folder, "package.zip"));
  const rest = await receiver.page.request.get(`${address}${path}/package`, { headers: { Range: `bytes=${whole.length - 1000}-` } });
  assert.equal(rest.status(), 206);
  assert.deepEqual(Buffer.from(await rest.body()), whole.subarray(whole.length - 1000));
});

test("the receiver says a word, says that all is here, and sends back; the sender reads it and takes it", async () => {
  const { page } = receiver;
  await page.goto(address + path);
  await page.fill("#tell input[name=name]", "Mixing engineer");
  await page.fill("#tell textarea", "The bell is lovely.");
  await page.click("#word");
  await page.waitForURL(/#answer$/);
  await page.fill("#tell input[name=name]", "Mixing engineer");
  await page.click("#confirm");
  await page.waitForSelector("#confirmed");
  await comes(() => page.locator("#confirmed").innerText(), /Mixing engineer said that all is here/);
  const bells = join(demoFiles(), "bells", "media", "three-bells.wav");
  await page.setInputFiles("#back input", { name: "new part.wav", mimeType: "audio/wav", buffer: readFileSync(bells) });
  await page.waitForSelector("#sent-back", { timeout: HANGS });
  await page.setInputFiles("#back input", [join(folder, "cello tuned.wav")]);
  await page.waitForFunction(() => /cello tuned\.wav/.test(document.getElementById("sent-back").innerText), null, { timeout: HANGS });
  const desk = sender.page;
  await desk.goto(`${transfer}/handover`);
  await desk.locator(".offer .happened summary").click();
  for (const words of [
    /says: The bell is lovely\./,
    /said that all is here/,
    /sent back new part\.wav/,
    /fetched the package/,
    /checked: \d+ of \d+ files whole/,
    /the passphrase was wrong/,
  ])
    await comes(() => desk.locator(".offer").innerText(), words);
  assert.deepEqual(await violations(sender), []);

  // Held by its sound to what was sent: of what it is, where it lies, and what is new.
  await desk.click("[data-look-through]");
  await desk.waitForSelector("[data-cameback]", { timeout: 4 * HANGS });
  const cello = desk.locator("[data-cameback] tr", { hasText: "cello tuned.wav" });
  await comes(() => cello.innerText(), /Of [^,]*Cello[^,]*, 4\s800 samples after the start\./);
  await comes(() => cello.getAttribute("data-sure"), "yes");
  await comes(() => cello.locator("input[name=placed]").isChecked(), true);
  await comes(() => desk.locator("[data-cameback] tr", { hasText: "new part.wav" }).getAttribute("data-kind"), "New");
  assert.deepEqual(await violations(sender), []);
  await desk.locator("[data-cameback]").evaluate(e => e.scrollIntoView({ block: "center" }));
  await shot(desk, "handover");
  await desk.click("[data-take]");
  await desk.waitForURL(/\/intake/);
  await desk.waitForFunction(() => document.getElementById("items")?.innerText.includes("new part.wav"), null, { timeout: HANGS });
  await desk.waitForFunction(() => document.body.dataset.settled === "yes", null, { timeout: HANGS });
  const placed = desk.locator("#items tr", { hasText: "cello tuned.wav" });
  await comes(() => placed.innerText(), /by its sound[\s\S]*4\s800/);
  await page.reload();
  await comes(() => page.locator("#sent-back").innerText(), /new part\.wav.*the sender took it/s);
});

test("a link that was taken back opens nothing any more", async () => {
  await sender.page.goto(`${transfer}/handover`);
  await sender.page.click("[data-revoke]");
  await sender.page.waitForFunction(() => /taken back/.test(document.querySelector(".offer").innerText));
  const answer = await receiver.page.goto(address + path);
  assert.equal(answer.status(), 404);
  await comes(() => receiver.page.locator("body").innerText(), /This link opens nothing/);
});

test("a package is put into a folder, read back, looked at again, and missed when it is gone", async () => {
  const { page } = sender;
  await page.goto(`${transfer}/handover`);
  await page.click("#put-there");
  await page.waitForSelector('#put-table tr[data-there="yes"]', { timeout: HANGS });
  await comes(() => page.locator("#put-table").innerText(), /\d+ files put there, read back and whole/);
  const outgoing = process.env.LYRO_FOLDERS.split("=")[1],
    mine = await page.locator("#put-table tbody td").nth(1).innerText(),
    within = readdirSync(outgoing, { recursive: true }).find(f => f.endsWith(mine));
  const there = join(outgoing, within);
  assert.ok(readdirSync(there).includes("manifest.json"));
  rmSync(join(there, "manifest.json"));
  await page.click("[data-look]");
  await page.waitForFunction(
    () => /1 file missing or not the same: manifest\.json/.test(document.getElementById("put-table").innerText),
    null,
    { timeout: HANGS },
  );
  rmSync(there, { recursive: true });
});

test("the report says what was sent, heard and received, and its signature is checked by the program and by another one", async () => {
  const { page } = sender;
  await page.goto(`${transfer}/handover`);
  const href = await page.locator("[data-report]").first().getAttribute("href");
  writeFileSync(join(folder, "report.zip"), Buffer.from(await (await page.request.get(address + href)).body()));
  mkdirSync(join(folder, "report"));
  execFileSync("python3", ["-m", "zipfile", "-e", join(folder, "report.zip"), join(folder, "report")]);
  const file = join(folder, "report", "Orrery_Suite_report.html"),
    bytes = readFileSync(file),
    text = bytes.toString("utf8");
  for (const words of [
    /All 275 clips arrive on their sample/,
    /1 of 17 files heard, by Sending engineer/,
    /Nobody listened to: /,
    /Mixing engineer<td>link for Tarn Lane mixing room: said that all is here/,
    /put there, read back|missing or not the same/,
  ])
    assert.match(text, words);
  const { publicKey, signature } = JSON.parse(readFileSync(`${file}.sig`, "utf8"));
  const der = Buffer.concat([Buffer.from("302a300506032b6570032100", "hex"), Buffer.from(publicKey, "hex")]);
  const key = createPublicKey({ key: der, format: "der", type: "spki" });
  assert.ok(verify(null, bytes, key, Buffer.from(signature, "hex")));
  const lyro = (...words) => spawnSync(join(root, "lyro"), ["verify", file, ...words], { encoding: "utf8" });
  const unknown = lyro();
  assert.equal(unknown.status, 7, unknown.stderr);
  assert.match(unknown.stdout, /as it was signed, by a key that nobody here knows/);
  const known = lyro("--key", createHash("sha256").update(der).digest("hex"));
  assert.equal(known.status, 0, known.stderr);
  bytes[bytes.length - 20] ^= 1;
  writeFileSync(file, bytes);
  assert.equal(lyro().status, 1);
  rmSync(`${file}.sig`);
  assert.equal(lyro().status, 2);
});

test("the other takes, please: what is new goes alone in three presses, and is one package with what is there", async () => {
  const { page } = sender;
  await page.goto(`${transfer}/handover`);
  await comes(() => page.locator("#has").innerText(), /has revision \d+, confirmed by/);
  await page.goto(`${transfer}/prepare`);
  const before = await page.locator("#sheet").getAttribute("data-revision");
  await page.getByLabel("Polarity of Cello", { exact: true }).selectOption("true");
  await page.waitForFunction(was => document.getElementById("sheet").dataset.revision !== was, before);
  await page.goto(`${transfer}/handover`);
  await page.locator("[data-follow-up]").last().click();
  await page.waitForURL(/\/build/);
  await page.waitForFunction(() => document.getElementById("state")?.dataset.state === "Done", null, { timeout: HANGS });
  await page.goto(`${transfer}/handover`);
  await comes(() => page.locator("[data-follows]").first().innerText(), /follow-up to revision \d+: [^]*as before and not sent/);
  await shot(page, "follow-up");
  await page.click("#make-link");
  await page.waitForSelector("#offered");
  await receiver.page.goto(address + new URL(await page.inputValue("#link")).pathname);
  await comes(() => receiver.page.locator("#follow-up").innerText(), /A follow-up to what you have[^]*Instead of what you have/);
  // Laid over what he has, all of it is held to its sums: what was sent and what was not.
  const over = join(folder, "over");
  execFileSync("python3", ["-m", "zipfile", "-e", join(folder, "for-arrived.zip"), over]);
  const sent = join(folder, "follow-up.zip");
  writeFileSync(sent, await (await receiver.context.request.get(receiver.page.url() + "/package")).body());
  execFileSync("python3", ["-m", "zipfile", "-e", sent, over]);
  await receiver.page.setInputFiles(
    "#check input",
    readdirSync(over, { recursive: true, withFileTypes: true })
      .filter(f => f.isFile())
      .map(f => join(f.parentPath, f.name)),
  );
  await receiver.page.waitForFunction(() => document.getElementById("check-state").dataset.ended === "yes", null, { timeout: HANGS });
  await comes(
    () => receiver.page.locator("#check-state").innerText(),
    /^All \d+ files are whole[^]*(\d+) of \1 files of the package before are as they were\.$/,
  );
  await shot(receiver.page, "receive-follow-up");
  assert.deepEqual(await violations(receiver), []);
  assert.deepEqual(await violations(sender), []);
});

test("a third room takes the package on, replies, and what was added lies at its place with the sender", async () => {
  third = await open();
  await third.page.goto(`${address}/open-a-room`);
  for (const [field, value] of [
    ["Room", "Lantern House"],
    ["EngineerName", "Third engineer"],
    ["Email", `third-${Date.now()}@lanternhouse.example`],
    ["Password", "ferry weir cobble plum"],
  ])
    await third.page.fill(`input[name=${field}]`, value);
  await third.page.click("button.main");
  await third.page.waitForURL(`${address}/`);
  const theirs = await begin(third.page, "From Quillfeather Hall");
  // What he had, and what followed: together they are one package.
  await drop(third.page, [join(folder, "for-arrived.zip"), join(folder, "follow-up.zip")], folder);
  await waitForRevision(third.page, 1);
  await comes(() => third.page.locator(".package").count(), 1);
  await comes(() => third.page.locator(".package").getAttribute("data-whole"), "yes");
  await comes(() => third.page.locator(".package").innerText(), /Follow-up: Orrery Suite\s+Whole, signer unknown/);
  await comes(() => third.page.locator("body").innerText(), /All media is here/);
  await shot(third.page, "incoming");
  assert.deepEqual(await violations(third), []);

  // Nothing was added: nothing to reply with.
  await third.page.goto(`${theirs}/prepare`);
  await third.page.locator("[data-reply] button").first().click();
  await third.page.waitForFunction(() => /Nothing was added here/.test(document.getElementById("notice")?.innerText ?? ""));
  await third.page.goto(`${theirs}/intake`);
  const before = Number(await third.page.locator("#revision").innerText());
  await drop(third.page, [["hand drum.wav", readFileSync(join(demoFiles(), "loose", "Three bells.wav"))]]);
  await waitForRevision(third.page, before + 1);
  await third.page.goto(`${theirs}/prepare`);
  await third.page.locator("[data-reply] button").first().click();
  await third.page.waitForFunction(() => /A reply to the package of/.test(document.querySelector("[data-reply]")?.innerText ?? ""));
  await shot(third.page, "reply");
  assert.deepEqual(await violations(third), []);
  await passes(third.page, theirs);
  const zip = await (await third.page.request.get(address + (await third.page.locator("#download").getAttribute("href")))).body();
  writeFileSync(join(folder, "reply.zip"), zip);
  const names = execFileSync("python3", ["-m", "zipfile", "-l", join(folder, "reply.zip")], { encoding: "utf8" });
  assert.deepEqual(names.match(/\S+\.wav/g).length, 1);
  assert.match(names, /Orrery_Suite_reply\/audio\/\d\d_hand_drum\.wav/);

  // The sender drops it where the package went from.
  const { page } = sender;
  await page.goto(`${transfer}/intake`);
  const had = Number(await page.locator("#revision").innerText());
  await drop(page, [["reply.zip", zip]]);
  await waitForRevision(page, had + 1);
  await comes(() => page.locator(".package").innerText(), /Reply: Orrery Suite[^]*a package of this transfer/);
  await page.goto(`${transfer}/prepare`);
  await comes(() => page.locator('#sheet tr[data-name="hand drum"]').count(), 1);
  await shot(page, "reply-back");
});

test("no script broke and nothing was blocked on the way", () => {
  const known = /404|(status of|Error Code) 4\d\d/;
  assert.deepEqual(
    [...sender.problems, ...receiver.problems, ...third.problems].filter(p => !known.test(p) && !(look && /inline style/.test(p))),
    [],
  );
});
