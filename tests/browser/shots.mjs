// Takes one picture of each main view from the demo: node shots.mjs [folder] [view …]
import { mkdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { HANGS, address, begin, demoFiles, drop, files as listed, open, signIn, stage, waitForRevision } from "./desk.mjs";

const folder = process.argv[2] ?? new URL("../../docs/screenshots", import.meta.url).pathname,
  only = process.argv.slice(3);
mkdirSync(folder, { recursive: true });
const { context, page, problems } = await open();
const shoot = async name => {
  if (!only.length || only.includes(name)) {
    await page.waitForTimeout(700);
    await page.screenshot({ path: `${folder}/${name}.png` });
  }
};
await page.goto(`${address}/sign-in`);
await signIn(page);
await shoot("transfers");
for (const name of ["survey", "prepare", "build", "proof", "handover"]) {
  await page.goto(await stage(page, "Orrery Suite", name));
  if (name === "survey") {
    await page.waitForSelector("#chart[data-ready]");
    await page.waitForTimeout(1500);
    for (let i = 0; i < 3; i++) {
      await page.keyboard.press("f");
      await page.waitForTimeout(300);
    }
    await page.evaluate(() => {
      document.getElementById("chart").chart.scroll = 0;
      document.getElementById("chart").chart.draw();
    });
    await shoot("survey");
    await page.evaluate(() => {
      const c = document.getElementById("chart").chart;
      c.from = 180_000;
      c.perPixel = 420;
      c.draw();
    });
    await page.waitForTimeout(1200);
    await shoot("survey-close");
    await page.evaluate(() => document.documentElement.setAttribute("data-night", ""));
    await shoot("survey-night");
    await page.evaluate(() => document.documentElement.removeAttribute("data-night"));
    await page.reload();
    await page.waitForSelector("#chart[data-ready]");
    await page.keyboard.press("m");
    const tempo = page.locator("#map-rows tr").nth(3).locator("input").nth(1);
    await tempo.fill("84");
    await tempo.press("Tab");
    await page.evaluate(() => {
      const c = document.getElementById("chart").chart;
      c.laneHeight = 84;
      c.scroll = 15 * 84;
      c.from = 1_150_000;
      c.perPixel = 1500;
      c.draw();
    });
    await shoot("survey-map");
  } else {
    await shoot(name);
  }
}
for (const name of ["levels", "routing"]) {
  await page.goto(await stage(page, "Orrery Suite", name));
  await shoot(name);
}
// What changed between two states of the transfer with every kind of print.
await page.goto(`${await stage(page, "Planetarium show, all printed", "revisions")}?before=1&after=2`);
await shoot("revisions");
// A folder as a person drops it, before anything was decided.
if (!only.length || only.includes("intake")) {
  await begin(page, "The suite, as it came");
  await drop(page, listed(join(demoFiles(), "dropped")), demoFiles());
  await waitForRevision(page, 1);
  await page.waitForFunction(() => {
    const roles = document.getElementById("roles");
    return roles && !roles.innerText.includes("being measured");
  });
  await shoot("intake");
}
// Everything printed, with stems through a master that limits: what they lack stands in the proof.
const show = "Planetarium show, all printed";
await page.goto(await stage(page, show, "intake"));
await shoot("intake-rates");
await page.goto(await stage(page, show, "prepare"));
await page.evaluate(() => {
  document.querySelector(".side").scrollTop = 1e6;
});
await shoot("mix");
await page.goto(await stage(page, show, "build"));
await page.waitForSelector('#state[data-state="Done"]', { timeout: HANGS });
await page.goto(await stage(page, show, "proof"));
await page.waitForSelector("#stem-words:not(:empty)");
await shoot("stems");

/** A WAVE file as a program writes it that knows of no stamps: format and sound alone. */
function plain(wave) {
  const data = wave.indexOf("data"),
    size = wave.readUInt32LE(data + 4),
    head = Buffer.alloc(12);
  head.write("RIFF");
  head.writeUInt32LE(4 + 24 + 8 + size, 4);
  head.write("WAVE", 8);
  return Buffer.concat([head, wave.subarray(12, 36), wave.subarray(data)]);
}

// The suite as a linked AAF: one file was renamed on the way, and its split pair is two tracks.
{
  const transfer = await begin(page, "The suite from another room"),
    base = join(demoFiles(), "aaf-linked");
  await drop(
    page,
    listed(base).map(f =>
      f.endsWith("cello.wav") ? ["in/media/tape_07.wav", plain(readFileSync(f))] : [`in/${f.slice(base.length + 1)}`, readFileSync(f)],
    ),
  );
  await waitForRevision(page, 1);
  await shoot("intake-links");
  await page.goto(`${transfer}/prepare`);
  await page.click("#clips-of > summary");
  await page.click("#keep-all");
  await page.waitForSelector("#clip-choices");
  for (const [name, value] of [
    ["clips.trimmed", "true"],
    ["clips.frameUnits", "true"],
  ]) {
    await page.selectOption(`select[name='${name}']`, value);
    await page.waitForTimeout(1500);
  }
  await shoot("prepare-clips");
}
// The suite's own MIDI file beside the bells: two maps, and nobody has decided.
const two = await begin(page, "Bells or suite?"),
  demo = demoFiles();
for (const [number, ...dropped] of [
  [1, "bells"],
  [2, "stamped/Orrery.mid"],
]) {
  await drop(
    page,
    dropped[0].includes("/") ? [[dropped[0], readFileSync(join(demo, dropped[0]))]] : listed(join(demo, dropped[0])),
    join(demo, dropped[0]),
  );
  await waitForRevision(page, number);
}
await page.goto(`${two}/intake`);
await shoot("intake-maps");
if (problems.length) console.error(problems.join("\n"));
await context.close();
