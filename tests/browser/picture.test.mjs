// The reference picture: along the timeline, beside what is heard, cut and coded for a receiver, in the package; the ways of the sound
// and the levels beside it.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { comes, address, begin, demoFiles, drop, files, makesRevision, open, passes, signIn, waitForRevision, work } from "./desk.mjs";

let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "Beside the picture");
  await drop(page, files(join(demoFiles(), "session")), join(demoFiles(), "session"));
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

const screen = () => page.locator("#screen");
const type = async (field, text) => {
  const input = page.locator(`#position [name=${field}], #${field}`).first();
  await input.fill(text);
  await input.press("Enter");
};
const survey = async () => {
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#chart[data-ready]");
};

test("a picture is told apart by its content, and its own sound is no track beside the session's", async () => {
  const row = page.locator("tr", { hasText: "reel-one.mov" }).first();
  await comes(() => row.innerText(), /H\.264, 480 × 270, 25 frames a second/);
  await comes(() => page.locator("tr", { hasText: "reel-one.wav" }).first().innerText(), /the reference picture's own sound/);
  await comes(
    () => page.locator("#rows tr, #items tr", { hasText: "reel-one" }).count(),
    n => n > 0,
  );
});

test("stills lie along its lane, more of them closer, and the picture shows the frame of the position", async () => {
  await survey();
  await page.waitForFunction(() => Number(document.getElementById("reel").dataset.stills) >= 3);
  const whole = await page.evaluate(() => document.getElementById("chart").desk.reel.step());
  await page.evaluate(() => {
    const { chart } = document.getElementById("chart");
    chart.perPixel = 60;
    chart.from = 48_000;
    chart.draw();
  });
  await page.waitForFunction(before => document.getElementById("chart").desk.reel.step() < before, whole);
  await page.click("#watch");
  await comes(() => page.locator("#watch").getAttribute("aria-expanded"), "true");
  await page.waitForFunction(() => document.querySelector("#screen video").videoWidth > 0);
  // 96 000 samples are two seconds: frame 50, and one sample less is the frame before.
  for (const [sample, seen] of [
    ["96000", 50],
    ["95999", 49],
    ["0", 0],
  ]) {
    await type("samples", sample);
    await page.waitForFunction(n => document.getElementById("screen").dataset.frame === String(n), seen);
  }
  assert.equal(await page.evaluate(() => document.querySelector("#screen video").muted), true);
});

test("it plays beside the sound, within two frames, and stops with it", async () => {
  await type("samples", "48000");
  await page.click("#listen");
  await page.waitForFunction(
    () => !document.querySelector("#screen video").paused && Number(document.getElementById("screen").dataset.frame) > 40,
  );
  const apart = await page.evaluate(() => Number(document.getElementById("screen").dataset.apart));
  assert.ok(apart < 0.12, String(apart));
  await page.keyboard.press("a");
  await page.waitForFunction(() => document.querySelector("#screen video").paused);
  await page.keyboard.press("p");
  await comes(() => screen().isVisible(), false);
});

test("the grid is heard over the session when it is asked for, on its very samples", async () => {
  const heard = async query => {
    const body = await (await page.request.get(`${transfer}/listen?from=0${query}`)).body();
    return new Int16Array(body.buffer, body.byteOffset + 44, 200_000);
  };
  const [plain, beats, halves] = [await heard(""), await heard("&click=beats"), await heard("&click=halves")];
  // Bar 1 lies 31 304 samples after the start; the pick-up's beat is at 0.
  const differs = (a, b, from, to) => [...a.subarray(from * 2, to * 2)].some((v, i) => Math.abs(v - b[from * 2 + i]) > 3000);
  assert.ok(differs(plain, beats, 31_304, 31_400));
  assert.ok(!differs(plain, beats, 31_100, 31_300));
  const half = 31_304 + Math.round((60 / 92 / 2) * 48_000);
  assert.ok(!differs(plain, beats, half - 50, half + 200));
  assert.ok([...halves.subarray(half * 2, half * 2 + 100)].some((v, i) => Math.abs(v - plain[half * 2 + i]) > 700));
});

test("the ways of the sound are drawn, and every one jumps to its track", async () => {
  await survey();
  await page.click("#routing-of");
  const drawing = page.locator("#routing");
  await drawing.waitFor();
  await comes(() => drawing.locator("g.node").count(), 28);
  await comes(() => drawing.locator("path.send").count(), 9);
  await comes(() => drawing.textContent(), /−8\.0 dB/);
  await drawing.locator("g.node", { hasText: "Long hall" }).locator("a").first().click();
  await page.waitForURL(/track=long-hall/);
  await comes(() => drawing.locator("path:not(.apart)").count(), 8);
  await drawing.locator("g.node", { hasText: "Cello" }).locator("a.name").click();
  await page.waitForSelector("#chart[data-ready]");
  await comes(() => page.locator("#selected h2").innerText(), "Cello");
});

test("every row of the levels plays, and a key goes on to the next", async () => {
  await page.goto(`${transfer}/levels`);
  const rows = page.locator("#levels tbody tr");
  await rows.nth(0).locator("[data-hear]").click();
  await page.waitForFunction(() => document.body.dataset.listening === "yes");
  await comes(() => rows.nth(0).getAttribute("class"), "heard");
  await page.keyboard.press("n");
  await page.waitForFunction(() => document.querySelectorAll("#levels tbody tr")[1].classList.contains("heard"));
  await page.keyboard.press("a");
  await page.waitForFunction(() => !document.querySelector("#levels .heard"));
});

test("it goes from where the files begin, without its sound, and is proved; the sheet says where it lies", async () => {
  await page.goto(`${transfer}/prepare`);
  await comes(
    () => page.locator("#picture-goes").innerText(),
    /reel-one\.mov begins at 10:00:00:00; the files begin with its first frame\. Its sound stays out\./,
  );
  await makesRevision(page, () => page.selectOption("select[name='files.from']", "bar 1"));
  await makesRevision(page, () => page.selectOption("#mix select[name='picture.extent']", "from the files' start"));
  await comes(
    () =>
      page
        .locator("#picture-goes")
        .innerText()
        .then(words => words.replaceAll(/\s/g, " ")),
    /begins at 10:00:00:16; the files begin 584 samples after its first frame/,
  );
  await page.goto(`${transfer}/build`);
  for (let i = 0; i < 12; i++) {
    const accept = page.getByRole("button", { name: /^Accept/ }).first();
    if (!(await accept.count())) break;
    await makesRevision(page, () => accept.click());
    await page.waitForLoadState("load");
  }
  await comes(() => page.locator("#planned").innerText(), /picture\/[^]*reel-one\.mov/);
  await passes(page, transfer);
  await page.goto(`${transfer}/handover`);
  const href = await page.locator("#packages a").first().getAttribute("href");
  const zip = join(work, "picture.zip");
  writeFileSync(zip, await (await page.request.get(address + href)).body());
  const taken = join(work, "reel-taken.mov");
  execFileSync("python3", [
    "-c",
    `import sys,zipfile
z=zipfile.ZipFile(sys.argv[1]); open(sys.argv[2],"wb").write(z.read(next(n for n in z.namelist() if n.endswith("reel-one.mov"))))`,
    zip,
    taken,
  ]);
  const said = JSON.parse(
    execFileSync(
      "ffprobe",
      ["-v", "error", "-of", "json", "-show_entries", "stream=codec_type,avg_frame_rate,nb_frames:stream_tags=timecode", taken],
      { encoding: "utf8" },
    ),
  );
  assert.deepEqual(said.streams.map(s => s.codec_type).sort(), ["data", "video"]);
  assert.equal(said.streams.find(s => s.codec_type === "video").avg_frame_rate, "25/1");
  assert.ok(said.streams.some(s => s.tags?.timecode === "10:00:00:16"));
});

test("a picture that cannot be read is said, and does not go", async () => {
  const other = await begin(page, "A broken picture");
  const reel = readFileSync(join(demoFiles(), "session", "picture", "reel-one.mov"));
  await drop(page, [
    ["session.wav", readFileSync(files(join(demoFiles(), "stamped")).find(f => f.endsWith(".wav")))],
    ["reel.mov", reel.subarray(0, 3000)],
  ]);
  await waitForRevision(page, 1);
  await comes(() => page.locator("tr", { hasText: "reel.mov" }).first().innerText(), /cannot be told|cannot be taken out/);
  await page.goto(`${other}/prepare`);
  await comes(() => page.locator("#picture-named").innerText(), /known by name only/);
  await makesRevision(page, () => page.selectOption("#mix select[name='picture.extent']", "whole"));
  await page.goto(`${other}/build`);
  await comes(() => page.locator("main").innerText(), /did not come, or could not be read/);
});

test("no script broke and nothing was blocked on the way", () => assert.deepEqual(problems, []));
