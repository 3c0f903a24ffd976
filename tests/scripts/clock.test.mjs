// Places as the screen computes them while the pointer moves, against arithmetic of their own.
import assert from "node:assert/strict";
import { test } from "node:test";
import { Clock } from "../../src/Lyrotrans.Web/wwwroot/js/clock.js";

const frames = (nominal, drop, perSecond, start = 0) => ({ nominal, drop, perSecond, start, day: dayOf(nominal, drop) });
const dayOf = (nominal, drop) => nominal * 86400 - drop * 54 * 24;
const survey = (more = {}) => ({
  rate: 48000,
  tempo: [{ at: 0, quarter: 0, tempo: 120, ramp: false }],
  meters: [{ quarter: 0, bar: 1, beats: 4, unit: 4 }],
  frames: frames(25, 0, 25),
  ...more,
});

/** Drop-frame labels counted one by one, as the rule says: two labels a minute are left out, but not in every tenth. */
function* dropLabels(nominal, drop) {
  for (let minute = 0; ; minute++)
    for (let s = 0; s < 60; s++)
      for (let f = s === 0 && minute % 10 ? drop : 0; f < nominal; f++) {
        const two = v => String(v).padStart(2, "0");
        yield `${two(Math.floor(minute / 60))}:${two(minute % 60)}:${two(s)};${two(f)}`;
      }
}

test("drop-frame labels are those that counting gives", () => {
  for (const [nominal, drop, perSecond] of [
    [30, 2, 30000 / 1001],
    [60, 4, 60000 / 1001],
  ]) {
    const clock = new Clock(survey({ frames: frames(nominal, drop, perSecond) }));
    let frame = 0;
    for (const label of dropLabels(nominal, drop)) {
      if (frame > nominal * 60 * 25) break;
      assert.equal(clock.label(frame), label);
      frame++;
    }
  }
});

test("a day of timecode begins again, and a place before the start is the day before", () => {
  const clock = new Clock(survey());
  assert.equal(clock.label(25 * 86400), "00:00:00:00");
  assert.equal(clock.label(-1), "23:59:59:24");
});

test("samples between two frames are said", () => {
  const clock = new Clock(survey());
  assert.equal(clock.timecode(1920), "00:00:00:01");
  assert.equal(clock.timecode(1921), "00:00:00:01 +1");
  assert.equal(clock.timecode(3839), "00:00:00:01 +1919");
});

test("every frame of a rate that does not divide the samples begins on its sample", () => {
  const perSecond = 30000 / 1001,
    clock = new Clock(survey({ frames: frames(30, 0, perSecond) }));
  for (let frame = 0; frame < 3000; frame++) assert.equal(clock.timecode(Math.round((frame * 48000) / perSecond)), clock.label(frame));
});

test("bars, beats and ticks follow the meters", () => {
  const clock = new Clock(
    survey({
      meters: [
        { quarter: 0, bar: 1, beats: 4, unit: 4 },
        { quarter: 8, bar: 3, beats: 7, unit: 8 },
      ],
    }),
  );
  assert.equal(clock.bars(0), "1.1.0");
  assert.equal(clock.bars(24000 * 7), "2.4.0");
  assert.equal(clock.bars(24000 * 8), "3.1.0");
  assert.equal(clock.bars(24000 * 11.5), "4.1.0");
  assert.equal(clock.barsOf(8.25), "3.1.240");
  assert.equal(clock.bars(-24000), "0.4.0");
});

test("a ramp of tempo is integrated", () => {
  const ramp = [
    { at: 0, quarter: 0, tempo: 60, ramp: true },
    { at: Infinity, quarter: 16, tempo: 120, ramp: false },
  ];
  const clock = new Clock(survey({ tempo: ramp }));
  // Many small steps: the tempo at each quarter says how long the next piece of it takes.
  let seconds = 0;
  const steps = 100000;
  for (let i = 0; i < steps; i++) seconds += (60 / (60 + (60 * (i + 0.5)) / steps)) * (16 / steps);
  assert.ok(Math.abs(clock.quarterAt(seconds * 48000) - 16) < 1e-6);
});

test("seconds have six digits and a true minus", () => {
  const clock = new Clock(survey());
  assert.equal(clock.seconds(48001), "1.000 021");
  assert.equal(clock.seconds(-24000), "−0.500 000");
  assert.equal(clock.seconds(48000 * 12345), "12\u202f345.000 000");
});
