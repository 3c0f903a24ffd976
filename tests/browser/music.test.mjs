// Tempo, meters, markers, notes and the click, on the real screens.
import { test, before, after } from "node:test";
import assert from "node:assert/strict";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { comes, HANGS, address, begin, demoFiles, drop, files, makesRevision, open, signIn, waitForRevision, work } from "./desk.mjs";

const demo = demoFiles();
let context, page, problems, transfer;
before(async () => {
  ({ context, page, problems } = await open());
  await signIn(page);
  transfer = await begin(page, "Music");
  await drop(page, files(join(demo, "session")), join(demo, "session"));
  await waitForRevision(page, 1);
});
after(async () => {
  await context.close();
});

const survey = async () => {
  await page.goto(`${transfer}/survey`);
  await page.waitForSelector("#chart[data-ready]");
};
const row = n => page.locator("#map-rows tr").nth(n);
const rowTexts = () =>
  page
    .locator("#map-rows tr")
    .evaluateAll(rows => rows.map(r => [...r.querySelectorAll("input")].map(i => (i.type === "checkbox" ? i.checked : i.value)).join(" ")));
const rowOf = async (kind, at) =>
  await page
    .locator("#map-rows tr")
    .evaluateAll(
      (rows, [kind, at]) => rows.findIndex(r => r.children[1].textContent === kind && r.querySelector("input").value === at),
      [kind, at],
    );
/** Changes a row's value and waits for what the server says of it. */
async function change(action) {
  await action();
  await page.waitForSelector('#map[aria-busy="false"]');
}
async function type(input, text) {
  await input.fill(text);
  await input.press("Tab");
}
const applied = () => makesRevision(page, () => page.click("#apply-map"));
const data = () => page.request.get(`${transfer}/survey.json`).then(r => r.json());

test("the map sheet opens with a key and lists tempos with their ramps, meters and keys", async () => {
  await survey();
  await page.keyboard.press("m");
  await page.waitForSelector("#map:not([hidden])");
  assert.deepEqual(
    (await rowTexts()).sort(),
    [
      "0.4.0 92 false",
      "0.4.0 Dm",
      "1.1.0 4/4",
      "13.1.0 92 true",
      "17.1.0 116 false",
      "17.1.0 7/8",
      "23.1.0 4/4",
      "29.1.0 116 true",
      "32.1.0 66 false",
    ].sort(),
  );
  await comes(() => page.inputValue("#bar1"), /^31\D?304\D*$/);
});

test("a typed tempo is drawn, says what would move, and moves notes but no sound when it is applied", async () => {
  const before = await data();
  await change(async () =>
    type(
      row(await rowOf("tempo", "0.4.0"))
        .locator("input")
        .nth(1),
      "100",
    ),
  );
  await comes(() => page.locator("#notes-quarters").innerText(), /\d+ notes move, at most [\d\s\u202f]+ samples earlier/);
  await comes(() => page.locator("#audio-samples").innerText(), /nothing moves/);
  await comes(() => page.locator("#audio-quarters").innerText(), /clips? moves?/);
  assert.equal(await page.evaluate(() => document.getElementById("chart").chart.draft.tempo[0].tempo), 100);
  await applied();
  const after = await data();
  assert.equal(after.tempo[0].tempo, 100);
  assert.deepEqual(
    after.tracks.map(t => t.clips),
    before.tracks.map(t => t.clips),
  );
  assert.deepEqual(
    after.markers.map(m => m.at),
    before.markers.map(m => m.at),
  );
  const notes = d => d.tracks.find(t => t.notes.length > 3).notes;
  assert.ok(notes(after).at(-1)[0] < notes(before).at(-1)[0]);
  assert.deepEqual(
    notes(after).map(n => n[5]),
    notes(before).map(n => n[5]),
  );
  await page.keyboard.press("v");
  await comes(() => page.locator(".revisions .on").innerText(), /tempo map: 5 tempos/);
});

test("undo puts the map back; with sound on its quarters the clips go with the grid", async () => {
  // The page may have come anew since the list of revisions was opened.
  await survey();
  await page.keyboard.press("v");
  await makesRevision(page, () => page.click("#undo"));
  await survey();
  const before = await data();
  assert.equal(before.tempo[0].tempo, 92);
  await page.click("#open-map");
  await page.check("input[name=stay-audio][value=Quarters]");
  await page.check("input[name=stay-notes][value=Samples]");
  await change(async () =>
    type(
      row(await rowOf("tempo", "0.4.0"))
        .locator("input")
        .nth(1),
      "80",
    ),
  );
  await applied();
  const after = await data();
  assert.notDeepEqual(
    after.tracks[0].clips.map(c => c[3]),
    before.tracks[0].clips.map(c => c[3]),
  );
  assert.deepEqual(
    after.tracks[0].clips.map(c => c[4]),
    before.tracks[0].clips.map(c => c[4]),
  );
  const starts = d => d.tracks.filter(t => t.notes.length).flatMap(t => t.notes.map(n => n[0]));
  starts(after).forEach((at, i) => assert.ok(Math.abs(at - starts(before)[i]) <= 1));
  await makesRevision(page, () => page.locator("#undo").dispatchEvent("click"));
});

test("a meter is added at the position, moved, refused inside a bar, and deleted", async () => {
  await survey();
  await page.fill("#position input[name=bars]", "5.2.100");
  await page.press("#position input[name=bars]", "Enter");
  await page.waitForFunction(() => document.querySelector("#position input[name=bars]").value.startsWith("5.2."));
  await page.click("#open-map");
  await change(() => page.click("[data-add=meter]"));
  const at = await rowOf("meter", "5.1.0");
  assert.ok(at >= 0);
  await change(() => type(row(at).locator("input").nth(1), "7/6"));
  await comes(() => page.locator("#map-problem").isVisible(), false);
  await change(() => type(row(at).locator("input").nth(0), "6.2.0"));
  await comes(() => page.locator("#map-problem").innerText(), /a meter begins with a bar/);
  await comes(() => page.locator("#apply-map").isDisabled(), true);
  const wrong = await rowOf("meter", "6.2.0");
  await change(() => type(row(wrong).locator("input").nth(0), "6.1.0"));
  await change(async () =>
    row(await rowOf("meter", "6.1.0"))
      .locator("button")
      .click(),
  );
  await comes(() => page.locator("#map-state").innerText(), /nothing changed/);
});

test("nonsense is refused with the row's place, by the screen and by the server", async () => {
  const first = await rowOf("tempo", "0.4.0");
  for (const [text, words] of [
    ["0", /no tempo/],
    ["fast", /no tempo/],
    ["2000", /no tempo/],
  ]) {
    await change(() => type(row(first).locator("input").nth(1), text));
    await comes(() => page.locator("#map-problem").innerText(), words);
  }
  await change(() => type(row(first).locator("input").nth(1), "92"));
  await change(() => type(page.locator("#bar1"), "somewhere"));
  await comes(() => page.locator("#map-problem").innerText(), /Bar 1/);
  const token = await page.getAttribute("meta[name=request-token]", "content");
  for (const body of ["null", "[]", "{}", '{"from":1,"bar1":"0","rows":[{"kind":"tempo"}]}']) {
    const answer = await page.request.post(`${transfer}/survey?handler=Map`, {
      headers: { "X-Request-Token": token, "Content-Type": "application/json" },
      data: body,
    });
    assert.equal(answer.status(), 400, body);
  }
});

test("bar 1 goes anywhere, and a tempo point is dragged on the chart", async () => {
  await survey();
  await page.click("#open-map");
  await change(() => type(page.locator("#bar1"), "40 000"));
  const place = await page.evaluate(() => {
    const c = document.getElementById("chart").chart,
      p = c.draft.tempo[1];
    c.perPixel = 2000;
    c.from = p.at - 300 * c.perPixel;
    c.draw();
    return p;
  });
  await page.waitForTimeout(300);
  const point = await page.evaluate(() => {
    const c = document.getElementById("chart").chart,
      p = c.draft.tempo[1];
    return { x: c.x(p.at), y: c.tempoY(p.tempo) };
  });
  const box = await page.locator("#chart").boundingBox();
  await page.mouse.move(box.x + point.x, box.y + point.y);
  await page.mouse.down();
  await page.mouse.move(box.x + point.x - 40, box.y + point.y - 8, { steps: 5 });
  await change(() => page.mouse.up());
  const moved = await page.evaluate(() => document.getElementById("chart").chart.draft.tempo[1]);
  assert.ok(
    moved.at < place.at && moved.tempo > place.tempo && Number.isInteger(moved.quarter) && Number.isInteger(moved.tempo),
    JSON.stringify(moved),
  );
  await applied();
  assert.equal((await data()).bar1, 40000);
  await makesRevision(page, () => page.locator("#undo").dispatchEvent("click"));
});

test("a tempo is tapped", async () => {
  await survey();
  await page.click("#open-map");
  await page.locator("#map h3").click();
  for (let i = 0; i < 5; i++) {
    await page.keyboard.press("b");
    await page.waitForTimeout(300);
  }
  const tapped = Number(/([\d.]+) ±/.exec(await page.locator("#tapped").innerText())[1]);
  assert.ok(tapped > 10 && tapped <= 200, `${tapped}`);
  await change(() => page.click("#tapped button"));
  await comes(
    async () =>
      row(await rowOf("tempo", "0.4.0"))
        .locator("input")
        .nth(1)
        .inputValue(),
    tapped.toFixed(2),
  );
});

test("a tapped tempo is the line through the taps, and a pause begins anew", async () => {
  const found = await page.evaluate(async () => {
    const { Taps } = await import("/js/taps.js"),
      of = times => {
        const taps = new Taps();
        return times.map(t => taps.tap(t)).at(-1);
      };
    const even = Array.from({ length: 12 }, (_, i) => 1000 + (i * 60000) / 92);
    return {
      even: of(even),
      uneven: of(even.map((t, i) => t + (i === 5 ? 60 : 0))),
      few: of([0, 500]),
      paused: of([0, 100, 200, 300, 9000, 9500, 10000]),
    };
  });
  assert.ok(Math.abs(found.even.tempo - 92) < 1e-9 && found.even.spread < 1e-9 && found.even.count === 12);
  assert.ok(Math.abs(found.uneven.tempo - 92) < 0.3 && found.uneven.spread > 0.05, JSON.stringify(found.uneven));
  assert.equal(found.few, null);
  assert.ok(Math.abs(found.paused.tempo - 120) < 1e-9 && found.paused.count === 3);
});

test("a note shows its exact place, and a track its controllers", async () => {
  await survey();
  const found = await page.evaluate(() => {
    const c = document.getElementById("chart").chart,
      t = c.survey.tracks.findIndex(x => x.notes.length > 3),
      n = c.survey.tracks[t].notes[2];
    c.laneHeight = 84;
    c.perPixel = 60;
    c.from = n[0] - 6000;
    c.scroll = t * 84;
    c.draw();
    return {
      t,
      note: n,
      name: c.survey.tracks[t].name,
      ticks: c.survey.tracks[t].parts[n[9]].ticks,
      quarter: c.survey.tracks[t].parts[n[9]].quarter,
    };
  });
  await page.waitForTimeout(400);
  const spot = await page.evaluate(({ t, note }) => {
    const c = document.getElementById("chart").chart;
    return { x: c.x((note[0] + note[1]) / 2), y: c.survey.tracks[t].noteY(note[2]) };
  }, found);
  const box = await page.locator("#chart").boundingBox();
  await page.mouse.click(box.x + spot.x, box.y + spot.y);
  const facts = await comes(() => page.locator("#selected").innerText(), new RegExp(`${found.name}, note 3`));
  assert.match(facts.replace(/[\u202f\s]/g, ""), new RegExp(`start,samples${found.note[0]}`));
  const beats = found.quarter + found.note[5] / found.ticks,
    bar = Math.floor(beats / 4),
    beat = Math.floor(beats - bar * 4);
  await comes(
    () => page.locator("#selected").innerText(),
    new RegExp(`${bar + 1}\\.${beat + 1}\\.${Math.round((beats - bar * 4 - beat) * 960)}`),
  );
  await page.keyboard.press("]");
  await comes(() => page.locator("#selected").innerText(), /note 4/);
  await page.locator("#heads .head", { hasText: found.name }).click();
  await comes(() => page.locator("#selected").innerText(), /controller 7, channel 1[\s\S]*events, show/);
});

test("Prepare shows the drift of each form of tempo, takes accents and a count-in and refuses a pattern that does not add up", async () => {
  await page.goto(`${transfer}/prepare`);
  await comes(() => page.locator("#drift").innerText(), /corrected\s+\d+\s+0\.\d\d\s+\d+\s+within 10 samples\s+\d+\s+\d\.\d\d\s+\d+/);
  await comes(() => page.locator("#drift").innerText(), /within 50 samples\s+\d+\s+\d+\.\d\d\s+\d+\s+plain\s+\d+\s+\d+\.\d\d\s+\d+/);
  await makesRevision(page, () => page.selectOption("#grid select[name='midi.tempo']", "plain"));
  await makesRevision(page, () => page.selectOption("#grid select[name='midi.tempo']", "corrected"));
  await makesRevision(page, () => page.check("input[type=checkbox][name='click.print']"));
  await makesRevision(page, () => page.check("input[type=checkbox][name='click.midi']"));
  await makesRevision(page, () => page.selectOption("select[name='click.countInBars']", "1"));
  await makesRevision(page, () => page.selectOption("select[name='click.countIn']", "click alone"));
  await comes(() => page.locator("#early").innerText(), /begins\s\d{3}\s\d{3}\ssamples\sbefore/);
  const seven = page.getByLabel("Accents of 7/8");
  await comes(() => seven.inputValue(), "2+2+3");
  await makesRevision(page, async () => {
    await seven.fill("3+4");
    await seven.press("Tab");
  });
  await page.getByLabel("Accents of 7/8").fill("3+3");
  await page.getByLabel("Accents of 7/8").press("Tab");
  await page.waitForFunction(() => /does not add up to the 7 beats of 7\/8/.test(document.getElementById("notice").textContent));
  await page.waitForFunction(() => document.querySelector("[aria-label='Accents of 7/8']").value === "3+4");
});

test("a start inside a beat is told, and moved to the beat before", async () => {
  await page.goto(`${transfer}/prepare`);
  await makesRevision(page, () => page.selectOption("select[name='files.from']", "chosen"));
  await makesRevision(page, async () => {
    await page.fill("input[name='files.chosenStart']", "62000");
    await page.press("input[name='files.chosenStart']", "Tab");
  });
  await comes(() => page.locator("#off-beat").innerText(), /some readers refuse/);
  await makesRevision(page, () => page.click("#off-beat button"));
  await page.waitForFunction(() => !document.getElementById("off-beat"));
  await makesRevision(page, () => page.selectOption("select[name='files.from']", "session start"));
});

test("the build has the click, and the proof finds every onset and the grid", async () => {
  await page.goto(`${transfer}/build`);
  await comes(() => page.locator("#planned").innerText(), /_Click_\d+[\w.]*\.wav/);
  await page.click("#build");
  await page.waitForSelector('#state[data-state="Done"]', { timeout: HANGS });
  await page.goto(`${transfer}/proof`);
  await comes(() => page.locator("#verdict").getAttribute("data-passed"), "yes");
  const href = await page.locator("#download").getAttribute("href"),
    zip = join(work, "music.zip");
  writeFileSync(zip, await (await page.request.get(address + href)).body());
  const proof = await (await page.request.get(`${address}${href.replace(/package$/, "proof")}`)).json();
  const find = what => proof.rows.find(r => r.what === what);
  assert.match(find("onsets").found, /^\d+, 0 off$/);
  assert.equal(find("onsets").difference, "0");
  assert.match(find("grid against sound").found, /0\.\d\d samples at/);
});

test("markers come out as a list", async () => {
  const list = await (await page.request.get(`${transfer}/markers.csv`)).text();
  assert.match(list, /^text,start samples,end samples,start timecode/);
  assert.match(list, /Lamps down,31304,127304,10:00:00:16 \+584,10:00:02:16 \+584,1\.1\.0,1\.4\.64/);
});

test("two sources with different maps are shown side by side, and the engineer decides", async () => {
  const here = await begin(page, "Two maps");
  const session = JSON.parse(
    readFileSync(
      files(join(demo, "bells")).find(f => f.endsWith(".json")),
      "utf8",
    ),
  );
  await drop(page, files(join(demo, "bells")), join(demo, "bells"));
  await waitForRevision(page, 1);
  await drop(page, [
    ["take/Orrery.mid", readFileSync(join(demo, "stamped", "Orrery.mid"))],
    ["take/places.csv", 'text,timecode,by,date\nHere,00:00:02:00,"booth, second chair",31 March\n'],
  ]);
  await waitForRevision(page, 2);
  const maps = page.locator("#maps");
  await comes(() => maps.innerText(), /2 sources say different maps: which one leads\?/);
  await comes(() => maps.innerText(), /bar 1 at sample/);
  await comes(() => maps.innerText(), /Orrery\.mid says that it starts at 10:00:00:00, and lies at 00:00:00:00/);
  await comes(() => page.locator(".facts").innerText(), /tempo\s+76\b/);
  await makesRevision(page, () => page.click("[data-lead='take/Orrery.mid']"));
  await comes(() => maps.innerText(), /Orrery\.mid leads/);
  await comes(() => page.locator(".facts").innerText(), /66–116|92–1\d\d|92/);
  await makesRevision(page, () => page.selectOption("#markers-from", { label: "take/places.csv" }));
  const survey = await (await page.request.get(`${here}/survey.json`)).json();
  assert.deepEqual(
    survey.markers.map(m => [m.text, m.at]),
    [["Here", 96000]],
  );
  assert.equal(session.tracks.length, 1);
  await page.goto(`${here}/survey`);
  await page.waitForFunction(() => document.getElementById("chart").chart);
  const x = await page.evaluate(() => document.getElementById("chart").chart.x(96000));
  const box = await page.locator("#chart").boundingBox();
  await page.mouse.click(box.x + x, box.y + 78);
  await comes(() => page.locator("#selected").innerText(), /Here[\s\S]*set by\s+booth, second chair\s+set on\s+31 March/);
});

// Struck notes at a steady tempo, as a plain 16-bit WAVE file.
function struck(tempo, seconds) {
  const rate = 48000,
    count = rate * seconds,
    bytes = Buffer.alloc(44 + count * 2);
  bytes.write("RIFF", 0);
  bytes.writeUInt32LE(36 + count * 2, 4);
  bytes.write("WAVEfmt ", 8);
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(rate, 24);
  bytes.writeUInt32LE(rate * 2, 28);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write("data", 36);
  bytes.writeUInt32LE(count * 2, 40);
  for (let beat = 0; beat < (seconds * tempo) / 60 - 1; beat++) {
    const at = Math.round(((beat * 60) / tempo) * rate);
    for (let n = 0; n < 9000; n++) bytes.writeInt16LE(Math.round(20000 * Math.exp(-n / 2500) * Math.sin(n * 0.06)), 44 + (at + n) * 2);
  }
  return bytes;
}

test("sound that plainly has another tempo than the default map is flagged with its confidence", async () => {
  const here = await begin(page, "No map");
  await drop(page, [["struck.wav", struck(92, 40)]]);
  await waitForRevision(page, 1);
  const flags = (await (await page.request.get(`${here}/survey.json`)).json()).flags;
  const tempo = flags.find(f => f.code === "other-tempo");
  const said = Number(/^The map says 120, the sound about ([\d.]+)$/.exec(tempo.title)[1]),
    octave = Math.log2(said / 92);
  assert.ok(Math.abs(octave - Math.round(octave)) < 0.01, tempo.title);
  assert.match(tempo.objects[0].detail, /confidence \d\d %/);
});

test("no script broke and nothing was blocked on the way", () => {
  assert.deepEqual(
    problems.filter(p => !/status of 4\d\d|Response Status Error Code 4\d\d/.test(p)),
    [],
  );
});
