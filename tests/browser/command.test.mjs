// The command line as a user meets it: exit codes, errors on stderr, quick to start, the same job as the screen.
import { test } from "node:test";
import assert from "node:assert/strict";
import { spawnSync } from "node:child_process";
import { readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { demoFiles, root, work } from "./desk.mjs";

const demo = demoFiles();
const lyro = (...args) => spawnSync(join(root, "lyro"), args, { encoding: "utf8", maxBuffer: 1 << 28 });

test("demo, build and proof do the whole job", () => {
  assert.equal(lyro("demo", join(work, "another"), "--scale", "0.05").status, 0);
  assert.ok(readFileSync(join(work, "another", "session", "Orrery_Suite.session.json")).length > 1000);
  const built = lyro("build", join(demo, "session"), "--out", join(work, "cli"), "--format", "flac", "--depth", "16");
  assert.equal(built.status, 0, built.stderr);
  assert.match(built.stderr, /choir\.wav is missing/);
  const proof = lyro("proof", join(work, "cli", "Orrery_Suite.zip"), "--against", join(demo, "session"));
  assert.equal(proof.status, 0, proof.stdout);
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
