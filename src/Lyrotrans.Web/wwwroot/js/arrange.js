// Which tracks the timeline shows, and in which order: rows of the session, arranged.
import { C } from "./chart.js";

const FATES = ["carried", "converted", "printed", "held"];
const SOURCES = ["audio", "notes"];

const SHOWN = {
  all: () => true,
  flagged: t => t.flagged?.length > 0,
  noted: t => t.note || t.clips.some(c => c[C.note]),
  goes: t => t.fate !== "held",
  held: t => t.fate === "held",
  audio: t => t.kind === "audio",
  notes: t => t.kind === "notes",
  ways: t => ["bus", "return", "master"].includes(t.kind),
  made: t => !SOURCES.includes(t.kind) && !["bus", "return", "master", "picture"].includes(t.kind),
};

/** A bus with what feeds it beneath, in the session's order; what feeds none comes last. */
function byBus(tracks) {
  const feeds = id => tracks.filter(t => t.output === id && t.kind !== "bus");
  const buses = tracks.filter(t => t.kind === "bus"),
    under = buses.flatMap(b => [b, ...feeds(b.id)]);
  return [...under, ...tracks.filter(t => !under.includes(t))];
}
const byTreatment = tracks => FATES.flatMap(fate => tracks.filter(t => t.fate === fate));

/** A take that does not sound, as a row beneath its track. */
const spare = (track, lane) => ({
  ...track,
  name: lane.name,
  words: `a take of ${track.name}`,
  fate: "held",
  clips: lane.clips,
  spare: true,
  takes: null,
  flagged: [],
  parts: [],
  notes: [],
  noteCount: 0,
  ride: null,
  controls: null,
});

export function arranged(tracks, { order, show, takes }) {
  const shown = tracks.filter(SHOWN[show] ?? SHOWN.all),
    rows = order === "bus" ? byBus(shown) : order === "treatment" ? byTreatment(shown) : shown;
  return takes ? rows.flatMap(t => [t, ...(t.spares ?? []).map(lane => spare(t, lane))]) : rows;
}
