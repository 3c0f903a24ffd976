// What a drop holds, as the browser tells it: files by their names, folders by their paths; and the entries of zips, whole and damaged.
import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { test } from "node:test";
import { dropped, refusal } from "../../src/Lyrotrans.Web/wwwroot/js/dropped.js";
import { entries } from "../../src/Lyrotrans.Web/wwwroot/js/unzip.js";

const file = name => ({ isFile: true, name, file: good => good({ name }) });
const folder = (name, inside, atOnce = 100) => ({
  isFile: false,
  name,
  createReader() {
    let at = 0;
    return { readEntries: good => good(inside.slice(at, (at += atOnce))) };
  },
});
const drop = list => ({ items: list.map(entry => ({ webkitGetAsEntry: () => entry })), files: [] });
const names = async list => (await dropped(drop(list))).map(f => f.name);

test("files that are dropped together keep their names, each as it is", async () => {
  assert.deepEqual(await names([file("horn.wav"), file("bell.wav"), file("7.wav")]), ["horn.wav", "bell.wav", "7.wav"]);
});

test("a folder gives every file below it by its path, however few the browser tells at a time", async () => {
  const many = Array.from({ length: 250 }, (_, i) => file(`${i}.wav`));
  const told = await names([folder("session", [folder("audio", many, 100), file("map.mid")], 1), file("notes.txt")]);
  assert.equal(told.length, 252);
  assert.ok(told.includes("session/audio/249.wav") && told.includes("session/map.mid") && told.includes("notes.txt"));
});

test("without entries the files themselves are taken, and a refusal is in the server's words where it has some", async () => {
  const plain = {
    items: [{}],
    files: [
      { name: "a.wav", webkitRelativePath: "" },
      { name: "b.wav", webkitRelativePath: "f/b.wav" },
    ],
  };
  assert.deepEqual(
    (await dropped(plain)).map(f => f.name),
    ["a.wav", "f/b.wav"],
  );
  const said = body => refusal({ originalResponse: body === null ? null : { getBody: () => body } }, "otherwise");
  assert.deepEqual([said('{"detail":"Full."}'), said("<html>"), said("{}"), said(null)], ["Full.", "otherwise", "otherwise", "otherwise"]);
});

const read = async blob => {
  const found = {};
  for await (const entry of entries(blob)) {
    const pieces = [];
    for await (const piece of entry.pieces()) pieces.push(Buffer.from(piece));
    found[entry.name] = Buffer.concat(pieces).toString("latin1");
  }
  return found;
};
const MAKE = `import sys,zipfile
for how,name in ((zipfile.ZIP_STORED,"stored"),(zipfile.ZIP_DEFLATED,"packed")):
    with zipfile.ZipFile(sys.argv[1]+"/"+name+".zip","w",how) as z:
        z.writestr("f/", ""); z.writestr("f/a.txt","hello"*2000); z.writestr("f/empty",""); z.writestr("b","x"); z.comment=b"a comment"`;

test("a zip of another program is read entry by entry, stored or packed, and a damaged one says so and never hangs", async () => {
  const place = mkdtempSync(join(tmpdir(), "lyro-zip-"));
  try {
    execFileSync("python3", ["-c", MAKE, place]);
    for (const name of ["stored", "packed"]) {
      const bytes = readFileSync(join(place, `${name}.zip`));
      assert.deepEqual(await read(new Blob([bytes])), { "f/a.txt": "hello".repeat(2000), "f/empty": "", b: "x" });
      for (let cut = 0; cut < bytes.length - 40; cut += 7) await assert.rejects(read(new Blob([bytes.subarray(0, cut)])), Error);
      for (let at = bytes.length - 230; at < bytes.length; at++) {
        const altered = Buffer.from(bytes);
        altered[at] ^= 0xff;
        await read(new Blob([altered])).catch(problem => assert.ok(problem instanceof Error));
      }
    }
  } finally {
    rmSync(place, { recursive: true });
  }
});
