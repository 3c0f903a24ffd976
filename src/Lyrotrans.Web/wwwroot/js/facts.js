// What the side sheet says of a selected thing: rows of a name and a value, exact.
import { C, N } from "./chart.js";
import { SHAPE_WORDS } from "./fades.js";
import { decibels, el, grouped } from "./words.js";

const KEYS = ["C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "A♭", "A", "B♭", "B"];

export function clipFacts(c, survey, clock) {
  const media = survey.media[c[C.media]],
    fade = (length, shape) => (length ? `${grouped(length)} ${SHAPE_WORDS[shape]}` : "none");
  return [
    ["name", c[C.name]],
    ["start", grouped(c[C.start])],
    ["timecode", clock.timecode(c[C.start])],
    ["bar.beat.tick", clock.bars(c[C.start])],
    ["length", grouped(c[C.length])],
    ["source from", grouped(c[C.offset])],
    ["fade in", fade(c[C.inLength], c[C.inShape])],
    ["fade out", fade(c[C.outLength], c[C.outShape])],
    ["gain", decibels(c[C.gain])],
    ["handles", `${grouped(c[C.before])} / ${grouped(c[C.after])}`],
    ["file", media.name],
    ["of", `${grouped(media.rate)} Hz, ${media.depth}`],
    ...(media.missing ? [["it is", "missing"]] : []),
    ...(c[C.muted] ? [["muted", "yes"]] : []),
  ];
}
export function markerFacts(marker, clock) {
  const end = marker.at + marker.length;
  return [
    ["marker at", grouped(marker.at)],
    ["timecode", clock.timecode(marker.at)],
    ["bar.beat.tick", clock.bars(marker.at)],
    ...(marker.length
      ? [
          ["ends at", grouped(end)],
          ["timecode", clock.timecode(end)],
          ["bar.beat.tick", clock.bars(end)],
          ["length", `${grouped(marker.length)} samples`],
        ]
      : []),
    ...(marker.by ? [["set by", marker.by]] : []),
    ...(marker.date ? [["set on", marker.date]] : []),
  ];
}
/** A note's place is computed from its ticks, not from its rounded sample. */
export function noteFacts(track, n, survey, clock) {
  const part = track.parts[n[N.part]],
    quarter = part.quarter + n[N.tick] / part.ticks;
  return [
    ["key", `${KEYS[n[N.key] % 12]}, octave ${Math.floor(n[N.key] / 12) - 1} (${n[N.key]})`],
    ["velocity", `${n[N.velocity]}, release ${n[N.release]}`],
    ["channel", n[N.channel]],
    ["bar.beat.tick", clock.barsOf(quarter)],
    ["start, samples", grouped(n[N.start])],
    ["timecode", clock.timecode(n[N.start])],
    ["seconds", clock.seconds(n[N.start])],
    ["sounds for, samples", grouped(n[N.end] - n[N.start])],
    ["part", part.name + (part.muted ? ", muted" : "")],
    ["tick in its part", `${grouped(n[N.tick])}, ${grouped(n[N.length])} long`],
    ["ticks a quarter", grouped(part.ticks)],
  ];
}
/** A track; choosing one of its controllers draws it. */
export function trackFacts(track, choose) {
  const controls = (track.controls ?? []).map((control, i) => {
    const button = el("button", { class: "plain", type: "button" }, `${grouped(control.points.length)} events, show`);
    button.addEventListener("click", () => choose(i));
    return [`${control.name}, channel ${control.channel}`, button];
  });
  return [
    ...track.facts,
    ["clips", grouped(track.clips.length)],
    ...(track.parts.length
      ? [
          ["parts", track.parts.length],
          ["notes", grouped(track.noteCount)],
        ]
      : []),
    ...track.parts.map(p => [p.name, `${p.notes} notes${p.muted ? ", muted" : ""}`]),
    ...controls,
  ];
}
