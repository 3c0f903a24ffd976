// The time that an upload still takes is said when it is known, and not before.
import assert from "node:assert/strict";
import { test } from "node:test";
import { Pace } from "../../src/Lyrotrans.Web/wwwroot/js/pace.js";
import { lasting } from "../../src/Lyrotrans.Web/wwwroot/js/words.js";

test("nothing is said before two seconds have passed, nor while nothing moves", () => {
  const pace = new Pace();
  assert.equal(pace.secondsTo(100), null);
  pace.note(10, 0);
  pace.note(11, 1900);
  assert.equal(pace.secondsTo(100), null);
  const stands = new Pace();
  for (let at = 0; at <= 60000; at += 1000) stands.note(10, at);
  assert.equal(stands.secondsTo(100), null);
});

test("what was there before counts as done, never as fast", () => {
  // Half of it is there when it begins: the rest goes at a tenth of a second per byte.
  const pace = new Pace();
  for (let at = 0; at <= 4000; at += 100) pace.note(500 + at / 100, at);
  assert.equal(pace.secondsTo(1000), 46);
});

test("only the last ten seconds speak", () => {
  const pace = new Pace();
  let done = 0;
  for (let at = 0; at <= 20000; at += 1000) pace.note((done += at < 8000 ? 1000 : 10), at);
  assert.equal(Math.round(pace.secondsTo(done + 600)), 60);
});

test("a time is told as one says it", () => {
  for (const [seconds, told] of [
    [0.2, "1 s"],
    [59.4, "59 s"],
    [89, "89 s"],
    [91, "2 min"],
    [3600, "60 min"],
    [7200, "2 h"],
    [9000, "2 h 30 min"],
    [1706403, "20 days"],
  ])
    assert.equal(lasting(seconds), told);
});
