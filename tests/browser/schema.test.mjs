// The published JSON Schema (2020-12) and the documents that the program writes, judged by a schema checker of another family.
import { test } from "node:test";
import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { demoFiles, root, work } from "./desk.mjs";
import Ajv from "ajv/dist/2020.js";

const schema = JSON.parse(readFileSync(join(root, "docs/open-session.schema.json")));
const valid = new Ajv({ strict: true, strictTypes: false, allErrors: true }).compile(schema);
const preparation = new Ajv({ strict: true, strictTypes: false, allErrors: true }).compile(
  JSON.parse(readFileSync(join(root, "docs/preparation.schema.json"))),
);
const demo = demoFiles();
const document = () => JSON.parse(readFileSync(join(demo, "session", "Orrery_Suite.session.json")));

test("the demo's document is valid", () => {
  assert.ok(valid(document()), JSON.stringify(valid.errors?.slice(0, 3)));
});

const inZip = (zip, end) =>
  JSON.parse(
    execFileSync(
      "python3",
      [
        "-c",
        "import sys,zipfile; z=zipfile.ZipFile(sys.argv[1]); " +
          "print(z.read([n for n in z.namelist() if n.endswith(sys.argv[2])][0]).decode())",
        zip,
        end,
      ],
      { encoding: "utf8", maxBuffer: 1 << 28 },
    ),
  );

test("a built package's document and the preparation in its manifest are valid", () => {
  execFileSync(join(root, "lyro"), ["build", join(demo, "session"), "--out", join(work, "schema")]);
  const zip = join(work, "schema", "Orrery_Suite.zip");
  assert.ok(valid(inZip(zip, ".session.json")), JSON.stringify(valid.errors?.slice(0, 3)));
  const kept = inZip(zip, "manifest.json").preparation;
  assert.ok(preparation(kept), JSON.stringify(preparation.errors?.slice(0, 3)));
  for (const wrong of [{ tail: -1 }, { container: "tape" }, { colour: "red" }, { click: { ...kept.click, countInBars: 3 } }])
    assert.ok(!preparation({ ...kept, ...wrong }), JSON.stringify(wrong));
});

test("the command line prints both schemas", () => {
  for (const [name, file] of [
    ["session", "open-session"],
    ["preparation", "preparation"],
  ])
    assert.equal(
      execFileSync(join(root, "lyro"), ["schema", name], { encoding: "utf8" }),
      readFileSync(join(root, `docs/${file}.schema.json`), "utf8"),
    );
});

for (const [what, spoil] of [
  [
    "another version",
    d => {
      // One later than the newest that is known.
      d.lyrotransSession =
        Math.max(...JSON.parse(readFileSync(join(root, "docs/open-session.schema.json"), "utf8")).properties.lyrotransSession.enum) + 1;
    },
  ],
  [
    "a property that is not there",
    d => {
      d.tracks[0].colour = "red";
    },
  ],
  [
    "a clip of no length",
    d => {
      d.tracks[0].lanes[0].clips[0].length = 0;
    },
  ],
  [
    "half a sample",
    d => {
      d.tracks[0].lanes[0].clips[0].start = 0.5;
    },
  ],
  [
    "no tempo",
    d => {
      d.tempo = [];
    },
  ],
])
  test(`the schema refuses ${what}, and so does the program`, () => {
    const spoiled = document();
    spoil(spoiled);
    assert.ok(!valid(spoiled));
    const path = join(work, "spoiled.session.json");
    execFileSync("python3", ["-c", "import sys; open(sys.argv[1],'w').write(sys.stdin.read())", path], { input: JSON.stringify(spoiled) });
    assert.throws(
      () => execFileSync(join(root, "lyro"), ["inspect", path], { stdio: "pipe" }),
      e => e.status === 2 && /\$/.test(e.stderr.toString()),
    );
  });
