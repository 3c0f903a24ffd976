// The command line as a user meets it: exit codes, errors on stderr, quick to start, the same job as the screen.
import { test } from "node:test";
import assert from "node:assert/strict";
import { execFileSync, spawnSync } from "node:child_process";
import { cpSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { demoFiles, root, work } from "./desk.mjs";

// A short one of its own: what a command says does not hang on how long a session is.
const demo = join(work, "command-demo");
const by = (key, ...args) =>
  spawnSync(join(root, "lyro"), args, {
    encoding: "utf8",
    maxBuffer: 1 << 28,
    env: { ...process.env, LYRO_KEY: join(work, `${key}.pem`) },
  });
const lyro = (...args) => by("own", ...args);

test("demo, build and proof do the whole job", () => {
  assert.equal(lyro("demo", demo, "--scale", "0.15").status, 0);
  assert.ok(readFileSync(join(demo, "session", "Orrery_Suite.session.json")).length > 1000);
  const built = lyro("build", join(demo, "session"), "--out", join(work, "cli"), "--format", "flac", "--depth", "16");
  assert.equal(built.status, 0, built.stderr);
  assert.match(built.stderr, /choir\.wav is missing/);
  const proof = lyro("proof", join(work, "cli", "Orrery_Suite.zip"), "--against", join(demo, "session"));
  assert.equal(proof.status, 0, proof.stdout);
  assert.match(proof.stdout, /The package's own word: preparation\./);
});

test("a package is held to the preparation that is given, and its folder proves as it does", () => {
  const zip = join(work, "cli", "Orrery_Suite.zip"),
    folder = join(work, "cli-unpacked");
  execFileSync("python3", ["-c", "import sys,zipfile; zipfile.ZipFile(sys.argv[1]).extractall(sys.argv[2])", zip, folder]);
  const asked = lyro("proof", folder, "--against", join(demo, "session"), "--format", "flac", "--depth", "16");
  assert.equal(asked.status, 0, asked.stdout);
  assert.doesNotMatch(asked.stdout, /own word/);
  const other = lyro("proof", zip, "--against", join(demo, "session"), "--format", "flac", "--depth", "24");
  assert.equal(other.status, 1);
  assert.match(other.stdout, /every byte/);
});

test("a package that differs ends with 1, bad input with 2, a wrong line with 3, a full disk with 4", () => {
  const session = JSON.parse(readFileSync(join(demo, "session", "Orrery_Suite.session.json")));
  session.tracks[0].lanes[0].clips[0].sourceOffset += 1;
  const moved = join(demo, "session", "moved.json");
  writeFileSync(moved, JSON.stringify(session));
  const differs = lyro("proof", join(work, "cli", "Orrery_Suite.zip"), "--against", moved);
  assert.equal(differs.status, 1, differs.stderr);
  assert.match(differs.stdout, /1 does not\./);
  assert.match(differs.stdout, /source from/);
  rmSync(moved);
  const bad = lyro("inspect", join(root, "README.md"));
  assert.equal(bad.status, 2);
  assert.equal(bad.stdout, "");
  assert.match(bad.stderr, /README\.md/);
  assert.equal(lyro("build").status, 3);
  assert.equal(lyro("nonsense").status, 3);
  assert.equal(lyro("build", join(demo, "bells"), "--out", "/dev/full/x").status, 4);
});

test("a file that lost its place is found in another by its sound, and one that cannot be read does not stop the others", () => {
  const whole = readFileSync(join(demoFiles(), "stamped", "narrator.wav"));
  const data = whole.indexOf("data"),
    frame = whole.readUInt16LE(whole.indexOf("fmt ") + 20),
    from = 211_111 * frame;
  const cut = Buffer.concat([whole.subarray(0, data + 8), whole.subarray(data + 8 + from)]);
  cut.writeUInt32LE(cut.length - 8, 4);
  cut.writeUInt32LE(cut.length - data - 8, data + 4);
  const lost = join(work, "lost.wav");
  writeFileSync(lost, cut);
  const found = lyro("place", join(demoFiles(), "stamped", "narrator.wav"), join(root, "README.md"), lost, "--json");
  assert.equal(found.status, 2);
  assert.match(found.stderr, /README\.md/);
  const [bad, good] = JSON.parse(found.stdout);
  assert.equal(bad.code, "file.unknown-content");
  assert.deepEqual([good.sample, good.sure, good.gainDb, good.inverted], [211_111, true, 0, false]);
  const words = lyro("place", join(demoFiles(), "stamped", "narrator.wav"), lost).stdout;
  assert.match(words, /at sample 211.111 \(\+0\.00\), sure: 100 % of its stretches lie there/);
  assert.equal(lyro("place", join(work, "nothing.wav"), lost).status, 2);
  assert.equal(lyro("place", lost).status, 3);
});

/** A small session of notes, changed by a test. */
function hostile(name, change) {
  const note = (tick, key) => [tick, 480, 1, key, 90, 64];
  const part = { id: "p", name: "p", startQuarter: "0", lengthQuarters: "8", ticksPerQuarter: 480, notes: [note(0, 60), note(960, 64)] };
  const given = JSON.parse(readFileSync(join(demo, "session", "Orrery_Suite.session.json")));
  const session = {
    ...Object.fromEntries(["lyrotransSession", "rate", "depth", "frameRate", "start", "bar1"].map(k => [k, given[k]])),
    name: "Far",
    tempo: [{ quarter: "0", quartersPerMinute: "120" }],
    meters: [{ bar: 1, beats: 4, beatUnit: 4 }],
    tracks: [
      { id: "n", name: "Keys", kind: "notes", channels: 0, output: "m", parts: [part] },
      { id: "m", name: "Master", kind: "master", channels: 2 },
    ],
  };
  change(session, part);
  const file = join(work, `${name}.session.json`);
  writeFileSync(file, JSON.stringify(session));
  return file;
}

for (const [what, change, ends] of [
  ["nothing odd", () => {}, 0],
  ["a meter at bar 999 999", s => s.meters.push({ bar: 999999, beats: 7, beatUnit: 8 }), 2],
  ["a meter beyond all bars", s => s.meters.push({ bar: 2 ** 53, beats: 7, beatUnit: 8 }), 2],
  ["a rate of 384 000", s => (s.rate = "384000"), 0],
  ["a tempo that hardly moves", s => (s.tempo[0].quartersPerMinute = "1/1000000"), 0],
  ["a tempo that nobody hears", s => (s.tempo[0].quartersPerMinute = "99999999"), 2],
  ["the fastest tempo", s => (s.tempo[0].quartersPerMinute = "60000"), 0],
  ["a tempo of ten thousand digits", s => (s.tempo[0].quartersPerMinute = "1".repeat(10000)), 2],
  ["a part far out", (s, part) => (part.startQuarter = "999999999"), 2],
  ["a part without end", (s, part) => (part.lengthQuarters = "99999999999"), 2],
  ["a note behind its part", (s, part) => part.notes.push([2 ** 44, 480, 1, 64, 90, 64]), 0],
  [
    "a note far out",
    (s, part) => {
      part.lengthQuarters = "16000000";
      part.notes.push([15_000_000 * 480, 480, 1, 64, 90, 64]);
    },
    2,
  ],
  [
    "two hundred ramps of long ratios",
    s =>
      (s.tempo = Array.from({ length: 200 }, (_, i) => ({
        quarter: `${i}`,
        quartersPerMinute: `${10 ** 15 + i * 7919}/${10 ** 13 + i * 104729}`,
        ramp: true,
      }))),
    0,
  ],
])
  test(`a session with ${what} ends in ${ends ? "words" : "a package"}`, () => {
    const file = hostile("far", change);
    const built = lyro("build", file, "--out", join(work, "far"));
    assert.equal(built.status, ends, built.stderr);
    assert.doesNotMatch(built.stderr + built.stdout, /^\s+at \w/m, "no trace of calls");
    if (ends) assert.match(built.stderr, /\([a-z]+\.[a-z-]+\)/, "a code");
  });

test("convert writes OMF and OTIO, and the proof follows each", () => {
  for (const name of ["suite.omf", "suite.otio"]) {
    const out = join(work, "forms", name),
      made = lyro("convert", join(demo, "session"), out);
    assert.equal(made.status, 0, made.stderr);
    assert.match(made.stderr, name === "suite.omf" ? /OMF has no markers/ : /choir\.wav is missing/);
    assert.equal(lyro("proof", out, "--against", join(demo, "session")).status, 0);
    assert.equal(JSON.parse(lyro("inspect", out, "--json").stdout).composition, "Orrery Suite");
    const back = join(work, "forms", `${name}.session.json`);
    assert.equal(lyro("convert", out, back).status, 0);
    const proof = lyro("proof", back, "--against", out);
    assert.equal(proof.status, 0, proof.stdout);
  }
});

test("convert goes between AAF, document and folder, and the proof follows each", () => {
  const sheet = join(work, "sheet.json"),
    aaf = join(work, "conv", "suite.aaf");
  writeFileSync(sheet, JSON.stringify({ clips: { media: "beside, WAVE", trimmed: true, handle: 500, smallSectors: true } }));
  const first = lyro("convert", join(demo, "session"), aaf, "--receiver", sheet);
  assert.equal(first.status, 0, first.stderr);
  assert.match(first.stderr, /choir\.wav is missing/);
  assert.match(first.stderr, /samples of handle/);
  assert.equal(lyro("proof", aaf, "--against", join(demo, "session")).status, 0);
  const bytes = readFileSync(aaf);
  assert.equal(lyro("convert", join(demo, "session"), aaf, "--receiver", sheet).status, 0);
  assert.deepEqual(readFileSync(aaf), bytes);
  for (const to of [join(work, "conv2", "suite.session.json"), join(work, "conv3")]) {
    assert.equal(lyro("convert", aaf, to).status, 0, to);
    const proof = lyro("proof", to, "--against", aaf);
    assert.equal(proof.status, 0, proof.stdout);
  }
  assert.equal(lyro("convert", aaf, join(work, "x.doc")).status, 2);
  writeFileSync(sheet, '{"clips":{"media":"on tape"}}');
  const wrong = lyro("convert", aaf, join(work, "y.aaf"), "--receiver", sheet);
  assert.equal(wrong.status, 2);
  assert.match(wrong.stderr, /\$\.clips\.media/);
});

test("the demo as an embedded and as a linked AAF brings the same clips", () => {
  const [a, b] = ["aaf-linked", "aaf-embedded"].map(f => JSON.parse(lyro("inspect", join(demo, f, "Orrery_Suite.aaf"), "--json").stdout));
  assert.ok(Object.values(a.media).every(m => m.how.startsWith("linked")) && Object.values(b.media).some(m => m.how === "embedded-wave"));
  const places = told => new Set(told.tracks.flatMap(t => t.clips.map(c => `${c.start} ${c.length} ${c.gainDb.toFixed(4)}`)));
  assert.deepEqual(places(a), places(b));
});

test("inspect tells a package by its manifest", () => {
  const told = JSON.parse(lyro("inspect", join(work, "cli", "Orrery_Suite.zip"), "--json").stdout);
  assert.equal(told.startTimecode, "10:00:00:00");
  assert.ok(told.files.every(f => f.sha256.length === 64));
});

test("inspect tells a session in samples", () => {
  const told = JSON.parse(lyro("inspect", join(demo, "session", "Orrery_Suite.session.json"), "--json").stdout);
  const session = JSON.parse(readFileSync(join(demo, "session", "Orrery_Suite.session.json")));
  assert.equal(told.startFrames, 900000);
  assert.equal(told.tracks[0].clips[0].start, session.tracks[0].lanes[0].clips[0].start);
  assert.equal(told.tracks.length, session.tracks.length);
});

test("without its session a package is whole, and known by the key that signed it; it is never called proved", () => {
  const zip = join(work, "cli", "Orrery_Suite.zip"),
    own = lyro("proof", zip);
  assert.equal(own.status, 0, own.stdout);
  assert.match(own.stdout, /^Whole, signed by this installation's key: ([0-9a-f]{4} ){15}[0-9a-f]{4}\./);
  assert.equal(statSync(join(work, "own.pem")).mode & 0o777, 0o600);

  const stranger = by("another", "proof", zip);
  assert.equal(stranger.status, 7, stranger.stdout);
  const [, fingerprint] = /^Whole, signer unknown: ([0-9a-f ]{79})\./.exec(stranger.stdout);
  const key = lyro("key").stdout;
  assert.match(key, new RegExp(`BEGIN PUBLIC KEY[^]*fingerprint ${fingerprint}`));
  writeFileSync(join(work, "public.pem"), key);
  for (const known of [fingerprint, fingerprint.replaceAll(" ", ""), join(work, "public.pem"), join(work, "own.pem")])
    assert.equal(by("another", "proof", zip, "--key", known).status, 0);
  assert.equal(by("another", "proof", zip, "--key", "0".repeat(64)).status, 7);
  assert.match(by("another", "proof", zip, "--key", join(work, "none.pem")).stderr, /package\.no-key/);
  const held = by("another", "proof", zip, "--against", join(demo, "session"));
  assert.equal(held.status, 0, held.stdout);
  assert.match(held.stdout, /own word: preparation, signer\./);

  // Its own folder, whatever that is called by now.
  const folder = join(work, "renamed");
  execFileSync("python3", ["-c", "import sys,zipfile; zipfile.ZipFile(sys.argv[1]).extractall(sys.argv[2])", zip, folder]);
  const unpacked = lyro("proof", join(folder, "Orrery_Suite"), "--against", join(demo, "session"));
  assert.equal(unpacked.status, 0, unpacked.stdout);
  renameSync(join(folder, "Orrery_Suite"), join(folder, "other"));
  assert.equal(lyro("proof", join(folder, "other")).status, 0);
  writeFileSync(join(folder, "other", "more.txt"), "x");
  assert.equal(lyro("proof", join(folder, "other")).status, 1);
});

test("what goes without its sound ends with a code of its own until it is accepted by its name", () => {
  const session = join(work, "silent"),
    zip = join(work, "silent-out", "Orrery_Suite.zip");
  cpSync(join(demo, "session"), session, { recursive: true });
  rmSync(join(session, "media", "cello.wav"));
  const built = lyro("build", session, "--out", join(work, "silent-out"));
  assert.equal(built.status, 6, built.stderr);
  const [, name] = /Accept it as "([^"]+)"\. \(package\.without-sound\)/.exec(built.stderr);
  const proof = lyro("proof", zip, "--against", session);
  assert.equal(proof.status, 6, proof.stdout);
  assert.match(proof.stdout, /^Not proved: [0-9\u202f]+ clips, [0-9\u202f]+ without sound\./);
  assert.equal(lyro("proof", zip).status, 6);
  assert.match(lyro("proof", zip, "--against", session, "--accept", name).stdout, /Accepted: [0-9\u202f]+ clips/);
  assert.equal(lyro("convert", session, join(work, "silent.aaf")).status, 6);
  assert.equal(lyro("proof", join(work, "silent.aaf"), "--against", session).status, 6);
  assert.equal(lyro("convert", session, join(work, "silent.aaf"), "--accept", name).status, 0);

  assert.equal(lyro("build", session, "--out", join(work, "silent-out"), "--accept", name).status, 0);
  const accepted = lyro("proof", zip, "--against", session);
  assert.equal(accepted.status, 0, accepted.stdout);
  assert.match(accepted.stdout, /Accepted: /);
  assert.match(lyro("proof", zip).stdout, /\(accepted\)/);
});

const PRINT = "import sys,zipfile; sys.stdout.buffer.write(zipfile.ZipFile(sys.argv[1]).read(sys.argv[2]))";

test("without vector instructions a package is the same but for its stamp", () => {
  const into = name => join(work, `vectors-${name}`),
    preparation = join(work, "vectors.json"),
    session = join(demo, "session");
  assert.equal(lyro("build", session, "--out", into("first")).status, 0);
  const read = (name, file) =>
    execFileSync("python3", ["-c", PRINT, join(into(name), "Orrery_Suite.zip"), `Orrery_Suite/${file}`], { maxBuffer: 1 << 28 });
  const wanted = JSON.parse(read("first", "manifest.json")).preparation;
  wanted.encoding = "integer 16";
  wanted.mix = { ...wanted.mix, stems: true, guide: true, levels: true };
  wanted.click = { ...wanted.click, print: true };
  wanted.accepted = ["Bass drum", "Celesta", "Harp"].map(t => `instrument ${t}`);
  wanted.tracks.forEach((t, i) => {
    if (t.treatment === "print dry") {
      t.treatment = ["print through", "print as mixed", "keep clips", "print dry"][i % 4];
    }
  });
  writeFileSync(preparation, JSON.stringify(wanted));
  const sums = {};
  for (const [name, env] of Object.entries({ wide: {}, narrow: { DOTNET_EnableHWIntrinsic: "0", DOTNET_ReadyToRun: "0" } })) {
    const built = spawnSync(join(root, "lyro"), ["build", session, "--out", into(name), "--preparation", preparation], {
      encoding: "utf8",
      env: { ...process.env, SOURCE_DATE_EPOCH: "1770000000", LYRO_KEY: join(work, "own.pem"), ...env },
    });
    assert.equal(built.status, 0, built.stderr);
    sums[name] = JSON.parse(read(name, "manifest.json"));
  }
  assert.notEqual(sums.wide.processor, sums.narrow.processor);
  assert.ok(sums.wide.files.length > 20);
  const differ = sums.wide.files.filter((f, i) => f.sha256 !== sums.narrow.files[i].sha256).map(f => f.path);
  assert.deepEqual(differ, []);
});
