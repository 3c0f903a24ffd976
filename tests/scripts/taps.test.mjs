// A tempo from taps.
import assert from "node:assert/strict";
import { test } from "node:test";
import { Taps } from "../../src/Lyrotrans.Web/wwwroot/js/taps.js";

const tapped = times => {
  const taps = new Taps();
  return times.map(t => taps.tap(t)).at(-1);
};

test("even taps give their tempo without spread, from the third on", () => {
  assert.equal(tapped([0, 500]), null);
  const { tempo, spread, count } = tapped([1000, 1500, 2000, 2500]);
  assert.ok(Math.abs(tempo - 120) < 1e-9);
  assert.ok(spread < 1e-9);
  assert.equal(count, 4);
});

test("one tap that is late hardly counts, and shows in the spread", () => {
  const times = Array.from({ length: 16 }, (_, i) => i * 500);
  times[8] += 60;
  const { tempo, spread } = tapped(times);
  assert.ok(Math.abs(tempo - 120) < 0.4, `${tempo}`);
  assert.ok(spread > 0.01);
});

test("a pause begins anew, and only the last sixteen count", () => {
  assert.equal(tapped([0, 500, 1000, 4100]), null);
  const slow = Array.from({ length: 10 }, (_, i) => i * 1000),
    fast = Array.from({ length: 16 }, (_, i) => 9500 + i * 500);
  const { tempo, count } = tapped([...slow, ...fast]);
  assert.ok(Math.abs(tempo - 120) < 1e-9);
  assert.equal(count, 16);
});
