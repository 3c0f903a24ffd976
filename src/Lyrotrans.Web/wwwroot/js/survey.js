// Survey: wires the chart to pointer, keys, the side sheet and the flags.
import { keys, position, transfer } from "./desk.js";
import { Chart, C, N, TOP } from "./chart.js";
import { Clock } from "./clock.js";
import { Peaks } from "./peaks.js";
import { Listen } from "./listen.js";
import { MapSheet } from "./map.js";
import { clipFacts, markerFacts, noteFacts, trackFacts } from "./facts.js";
import { el, grouped } from "./words.js";

const canvas = document.getElementById("chart");
if (canvas) start();

async function start() {
  const survey = await (await fetch(`/transfers/${transfer}/survey.json`)).json();
  const clock = new Clock(survey), peaks = new Peaks(transfer, () => chart.draw());
  await document.fonts.ready;
  const chart = new Chart(canvas, survey, clock, peaks);
  const selected = document.getElementById("selected"), headBox = document.getElementById("heads"), overview = document.querySelector("#overview i");
  let flagAt = -1, currentTrack = 0;
  canvas.chart = chart;
  const map = new MapSheet(survey, chart);

  // heads and flags
  survey.flags.forEach((flag, i) => { flag.number = i + 1; const track = survey.tracks.find(t => t.id === flag.track); if (track) { flag.at ??= track.clips[0]?.[C.start] ?? 0; (track.flagged ??= []).push(flag); } });
  const heads = survey.tracks.map((track, i) => {
    const head = el("button", { class: `head ${track.fate}`, type: "button" }, el("span", { class: "o" }, String(track.number).padStart(2, "0")), el("b", {}, track.name), el("span", { class: `st ${track.fate}` }, el("i"), el("em", {}, track.words + (track.takes ? `, ${track.takes} spare takes` : ""))));
    head.addEventListener("click", () => select({ track: i, clip: -1 }));
    headBox.append(head);
    return head;
  });
  const costs = { SoundLost: "sound would be missing or wrong", SentUnmeant: "would go without anyone meaning it", WorkThere: "work for the other side" };
  const list = document.getElementById("flags");
  let cost = null;
  const flagRows = survey.flags.map((flag, i) => {
    if (flag.cost !== cost) { cost = flag.cost; list.append(el("li", { class: "cost" }, costs[cost])); }
    const row = el("li", {}, el("button", { type: "button" }, el("i", { class: "pennant" }), `${flag.number}  ${flag.title}`, el("span", {}, flag.detail)));
    row.firstChild.addEventListener("click", () => toFlag(i));
    list.append(row);
    return row;
  });
  document.getElementById("flagcount").replaceChildren(...(survey.flags.length ? [el("i", { class: "pennant" }), `${survey.flags.length} flags open`] : ["No flags"]));
  document.getElementById("headline").textContent = survey.flags.length ? survey.flags[0].title : "nothing in the way";

  chart.onPaint = () => {
    const window = canvas.clientHeight - TOP;
    heads.forEach((head, i) => {
      const top = i * chart.laneHeight - chart.scroll, shown = top > -chart.laneHeight && top < window;
      head.hidden = !shown;
      if (shown) { head.style.top = `${top}px`; head.style.height = `${chart.laneHeight}px`; head.classList.toggle("on", chart.selected?.track === i); }
    });
    const span = survey.end * 1.04, low = -survey.end * .02;
    overview.style.left = `${Math.max(0, (chart.from - low) / span * 100)}%`;
    overview.style.width = `${Math.min(100, canvas.clientWidth * chart.perPixel / span * 100)}%`;
  };

  function toFlag(i) {
    flagAt = (i + survey.flags.length) % survey.flags.length;
    const flag = survey.flags[flagAt], t = survey.tracks.findIndex(x => x.id === flag.track);
    flagRows.forEach((row, k) => row.classList.toggle("on", k === flagAt));
    flagRows[flagAt].scrollIntoView({ block: "nearest" });
    const clip = t < 0 ? -1 : survey.tracks[t].clips.findIndex(c => c[C.id] === flag.clip);
    if (t >= 0) { select({ track: t, clip }); chart.showTrack(t); } else fill(flag.title, [["", flag.detail]]);
    if (flag.at !== undefined) { chart.show(flag.at); position.set(flag.at); }
  }
  function select(what) {
    chart.selected = what;
    if (!what) fill("Nothing selected", []);
    else if (what.marker) fill(what.marker.text, markerFacts(what.marker, clock));
    else {
      currentTrack = what.track;
      const track = survey.tracks[what.track];
      if (what.clip >= 0) fill(`${track.name}, clip ${what.clip + 1}`, clipFacts(track.clips[what.clip], survey, clock));
      else if (what.note >= 0) fill(`${track.name}, note ${what.note + 1}`, noteFacts(track, track.notes[what.note], survey, clock));
      else fill(track.name, trackFacts(track, shown => { track.shown = shown; chart.draw(); }));
    }
    chart.draw();
  }
  function fill(title, rows) {
    selected.replaceChildren(el("h2", {}, title), rows.length ? el("table", {}, el("tbody", {}, ...rows.map(([k, v]) => el("tr", {}, el("td", {}, k), el("td", {}, v instanceof Node ? v : String(v)))))) : el("p", { class: "soft" }, "Select a clip, a track, a marker or a flag; its numbers stand here."));
  }

  // pointer
  let drag = null;
  canvas.addEventListener("pointerdown", e => { canvas.setPointerCapture(e.pointerId); drag = { x: e.offsetX, y: e.offsetY, from: chart.from, scroll: chart.scroll, moved: false, tempo: chart.tempoPointAt(e.offsetX, e.offsetY) }; });
  canvas.addEventListener("pointermove", e => {
    canvas.style.cursor = chart.tempoPointAt(e.offsetX, e.offsetY) >= 0 ? "move" : "";
    position.hover(Math.round(chart.sampleAt(e.offsetX)), clock);
    if (!drag) return;
    if (Math.abs(e.offsetX - drag.x) + Math.abs(e.offsetY - drag.y) > 4) drag.moved = true;
    if (drag.tempo >= 0) return;
    if (drag.moved) { chart.from = drag.from - (e.offsetX - drag.x) * chart.perPixel; if (drag.y > TOP) chart.scroll = drag.scroll - (e.offsetY - drag.y); chart.draw(); }
  });
  // A tempo point lands where it is let go: sideways to another beat, up and down to another tempo.
  const dropTempo = e => map.drag(drag.tempo, Math.abs(e.offsetX - drag.x) > 6 ? chart.sampleAt(e.offsetX) : null, Math.abs(e.offsetY - drag.y) > 3 ? chart.tempoAtY(e.offsetY) : null);
  canvas.addEventListener("pointerup", e => { if (drag?.moved && drag.tempo >= 0) dropTempo(e); else if (drag && !drag.moved) { select(chart.hit(e.offsetX, e.offsetY)); position.set(chart.sampleAt(e.offsetX)); } drag = null; });
  canvas.addEventListener("pointerleave", () => { if (!drag) position.hover(position.sample, clock); });
  canvas.addEventListener("wheel", e => {
    e.preventDefault();
    if (e.ctrlKey || e.altKey) chart.zoom(Math.pow(1.0015, e.deltaY), e.offsetX);
    else if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) chart.pan(e.deltaX || e.deltaY);
    else { chart.scroll += e.deltaY; chart.draw(); }
  }, { passive: false });
  document.querySelector(".heads").addEventListener("wheel", e => { chart.scroll += e.deltaY; chart.draw(); }, { passive: true });
  document.getElementById("overview").addEventListener("pointerdown", e => { const move = x => { chart.from = x / canvas.clientWidth * survey.end * 1.04 - survey.end * .02 - canvas.clientWidth * chart.perPixel / 2; chart.draw(); }; move(e.offsetX); });

  position.onSet(sample => { chart.at = sample; chart.show(sample); });
  chart.at = position.sample;
  const step = () => Math.max(1, Math.round(chart.perPixel * 8));
  // Clips, or notes on a track that has no clips.
  const clipStep = by => {
    const track = survey.tracks[currentTrack], what = track.clips.length ? "clip" : "note", items = track.clips.length ? track.clips : track.notes; if (!items.length) return;
    const at = chart.selected?.track === currentTrack ? chart.selected[what] ?? -1 : -1, next = Math.min(items.length - 1, Math.max(0, at + by)), start = items[next][what === "clip" ? C.start : N.start];
    select({ track: currentTrack, clip: -1, [what]: next }); chart.show(start); position.set(start);
  };
  const trackStep = by => { const t = Math.min(survey.tracks.length - 1, Math.max(0, currentTrack + by)); select({ track: t, clip: -1 }); chart.showTrack(t); };
  let heardFrom = 0;
  const listening = new Listen(seconds => {
    chart.playing = seconds === null ? null : heardFrom + seconds * survey.rate;
    if (seconds !== null && (chart.x(chart.playing) > canvas.clientWidth || chart.x(chart.playing) < 0)) chart.from = chart.playing - canvas.clientWidth * chart.perPixel * .05;
    for (const id of ["listen", "listen-track"]) document.getElementById(id).setAttribute("aria-pressed", listening?.on && (id === "listen-track") === alone);
    chart.draw();
  });
  let alone = false;
  const listen = track => { if (listening.on) { listening.stop(); return; } heardFrom = position.sample; alone = track !== null; listening.play(`/transfers/${transfer}/listen?from=${heardFrom}${track === null ? "" : `&track=${encodeURIComponent(track)}`}`); };
  canvas.listening = listening;
  document.getElementById("listen").addEventListener("click", () => listen(null));
  document.getElementById("listen-track").addEventListener("click", () => listen(survey.tracks[currentTrack].id));
  keys({
    a: () => listen(null), o: () => listen(survey.tracks[currentTrack].id),
    ArrowLeft: () => position.set(position.sample - step()), ArrowRight: () => position.set(position.sample + step()),
    "Shift ArrowLeft": () => chart.pan(-canvas.clientWidth * .8), "Shift ArrowRight": () => chart.pan(canvas.clientWidth * .8),
    ArrowUp: () => trackStep(-1), ArrowDown: () => trackStep(1), "[": () => clipStep(-1), "]": () => clipStep(1),
    "+": () => zoomAtPosition(.5), "=": () => zoomAtPosition(.5), "-": () => zoomAtPosition(2), "−": () => zoomAtPosition(2),
    m: () => map.toggle(), b: () => map.open && map.tap(),
    f: () => survey.flags.length && toFlag(flagAt + 1), h: () => position.set(0), e: () => position.set(survey.end), w: () => chart.whole(), s: () => { chart.perPixel = 1 / 12; chart.from = position.sample - canvas.clientWidth / 2 * chart.perPixel; chart.draw(); },
  });
  function zoomAtPosition(factor) { const x = chart.x(chart.at); chart.zoom(factor, x > 0 && x < canvas.clientWidth ? x : undefined); }
  document.getElementById("whole").addEventListener("click", () => chart.whole());
  document.getElementById("height").addEventListener("change", e => { chart.laneHeight = Number(e.target.value); chart.draw(); });
  chart.whole();
  canvas.dataset.ready = "yes";
}
