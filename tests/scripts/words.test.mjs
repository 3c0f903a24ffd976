// Numbers, tables and fade shapes as the screens say them.
import assert from "node:assert/strict";
import { test } from "node:test";
import { csv } from "../../src/Lyrotrans.Web/wwwroot/js/csv.js";
import { SHAPES, SHAPE_WORDS } from "../../src/Lyrotrans.Web/wwwroot/js/fades.js";
import { bytes, decibels, grouped } from "../../src/Lyrotrans.Web/wwwroot/js/words.js";

test("numbers are grouped in threes with a true minus", () => {
  assert.deepEqual([0, 999, 1000, 1234567, -1234.4].map(grouped), ["0", "999", "1\u202f000", "1\u202f234\u202f567", "−1\u202f234"]);
});

test("levels and sizes have their unit", () => {
  assert.equal(decibels(-3), "−3.00 dB");
  assert.equal(decibels(0.125, 1), "0.1 dB");
  assert.deepEqual([1500, 2.5e6, 3.25e9].map(bytes), ["1.5 kB", "2.5 MB", "3.25 GB"]);
});

test("a CSV comes back as it was, whatever its cells hold", () => {
  const rows = [
    ["name", "meant"],
    ['a "bell"', "1,5"],
    ["two\nlines", ""],
    ["two\r\nlines", "−3"],
  ];
  assert.deepEqual(parse(csv(rows)), rows);
});

test("what a table program would take for a formula is a text in a CSV", () => {
  assert.equal(csv([["=1+2", "+A1", "-A1", "@x", "'=1", "\t=1"]]), "'=1+2,'+A1,'-A1,'@x,''=1,'\t=1");
  assert.equal(csv([["-3", "+0.5", "-.5", "−3", "a=b", "'tis", ""]]), "-3,+0.5,-.5,−3,a=b,'tis,");
});

test("every fade shape runs from silence to full and never falls", () => {
  assert.deepEqual(Object.keys(SHAPES).sort(), Object.keys(SHAPE_WORDS).sort());
  for (const [name, shape] of Object.entries(SHAPES)) {
    assert.ok(Math.abs(shape(0)) < 1e-12, name);
    assert.ok(Math.abs(shape(1) - 1) < 1e-12, name);
    for (let i = 1; i <= 1000; i++) assert.ok(shape(i / 1000) >= shape((i - 1) / 1000), name);
  }
});

test("equal power keeps the power of two that cross", () => {
  for (let i = 0; i <= 100; i++) assert.ok(Math.abs(SHAPES.EqualPower(i / 100) ** 2 + SHAPES.EqualPower(1 - i / 100) ** 2 - 1) < 1e-12);
});

/** A reader of CSV of its own. */
function parse(text) {
  const rows = [[""]];
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const row = rows.at(-1),
      c = text[i];
    if (quoted && c === '"' && text[i + 1] === '"') row[row.length - 1] += text[i++];
    else if (c === '"') quoted = !quoted;
    else if (!quoted && c === ",") row.push("");
    else if (!quoted && c === "\n") rows.push([""]);
    else row[row.length - 1] += c;
  }
  return rows;
}
