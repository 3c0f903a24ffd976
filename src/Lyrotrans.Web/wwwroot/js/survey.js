// Survey: wires the chart to heads, flags, pointer, keys, listening and the side sheet.
import { keys, position, transfer } from "./desk.js";
import { Chart, C, N, TOP } from "./chart.js";
import { Clock } from "./clock.js";
import { Peaks } from "./peaks.js";
import { Listen } from "./listen.js";
import { MapSheet } from "./map.js";
import { Pointer } from "./pointer.js";
import { clipFacts, markerFacts, noteFacts, trackFacts } from "./facts.js";
import { markerForm, noteForm } from "./asides.js";
import { aloneForm } from "./alone.js";
import { arranged } from "./arrange.js";
import { flagRow } from "./flags.js";
import { Reel } from "./reel.js";
import { el, grouped } from "./words.js";

const COSTS = {
  SoundLost: "sound would be missing or wrong",
  SentUnmeant: "would go without anyone meaning it",
  WorkThere: "work for the other side",
};

class SurveyDesk {
  constructor(canvas, survey) {
    this.canvas = canvas;
    this.survey = survey;
    this.clock = new Clock(survey);
    this.chart = new Chart(canvas, survey, this.clock, new Peaks(transfer, () => this.chart.draw()));
    this.map = new MapSheet(survey, this.chart);
    this.flagAt = -1;
    this.currentTrack = 0;
    canvas.chart = this.chart;
    canvas.desk = this;
    this.placeFlags();
    this.all = survey.tracks;
    this.arrange();
    this.flagRows = this.listFlags();
    this.reel = survey.picture ? new Reel(this.chart, survey.picture, survey.rate) : null;
    this.chart.onPaint = () => this.paintAround();
    this.listen();
    this.wire();
    this.chart.whole();
    this.jump();
    canvas.dataset.ready = "yes";
    this.loadNotes();
  }
  /** The notes that did not come with the first answer, while what did is drawn. */
  async loadNotes() {
    for (const track of this.all)
      while (track.notes.length < track.noteCount) {
        const answer = await fetch(`/transfers/${transfer}/notes/${encodeURIComponent(track.id)}?from=${track.notes.length}`);
        const more = answer.ok ? await answer.json() : [];
        if (!more.length) return;
        for (const note of more) track.notes.push(note);
        this.chart.draw();
      }
    this.canvas.dataset.notes = "all";
  }
  /** A flag without a place of its own stands at its track's first clip. */
  placeFlags() {
    this.survey.groups = this.survey.flags;
    this.survey.flags = this.survey.groups.flatMap((group, i) => group.objects.map(o => Object.assign(o, { number: i + 1, group })));
    this.survey.flags.forEach(flag => {
      const track = this.survey.tracks.find(t => t.id === flag.track);
      if (!track) return;
      flag.at ??= track.clips[0]?.[C.start] ?? 0;
      if (flag.group.open) (track.flagged ??= []).push(flag);
    });
  }
  /** Shows the tracks that are asked for, in the order that is asked for; asked for again when the page comes back. */
  arrange() {
    const { survey } = this,
      kept = `arranged ${transfer}`,
      fields = ["order", "show", "takes"].map(id => document.getElementById(id)),
      before = JSON.parse(sessionStorage.getItem(kept) ?? "null");
    if (!this.heads && before) fields.forEach(f => (f.type === "checkbox" ? (f.checked = before[f.id]) : (f.value = before[f.id])));
    const asked = Object.fromEntries(fields.map(f => [f.id, f.type === "checkbox" ? f.checked : f.value]));
    sessionStorage.setItem(kept, JSON.stringify(asked));
    if (asked.takes && !this.takes) this.loadTakes();
    survey.tracks = arranged(this.all, asked);
    document.getElementById("heads").replaceChildren();
    this.heads = survey.tracks.map((track, i) => this.head(track, i));
    const own = survey.tracks.filter(t => !t.spare).length;
    document.getElementById("shown").textContent = own === this.all.length ? "" : `${own} of ${this.all.length}`;
    Object.assign(this.chart, { selected: null, scroll: 0 });
    this.currentTrack = 0;
    this.chart.draw();
  }
  /** The takes that do not sound, when they are asked for first. */
  async loadTakes() {
    this.takes = {};
    const answer = await fetch(`/transfers/${transfer}/takes.json`);
    if (!answer.ok) return;
    this.takes = await answer.json();
    for (const track of this.all) track.spares = this.takes[track.id];
    this.arrange();
  }
  showAll() {
    document.getElementById("show").value = "all";
    this.arrange();
  }
  head(track, i) {
    const words = track.words + (track.takes ? `, ${track.takes} spare takes` : "");
    const head = el(
      "button",
      { class: `head ${track.fate}${track.spare ? " spare" : ""}`, type: "button" },
      el("span", { class: "o" }, track.spare ? "" : String(track.number).padStart(2, "0")),
      el("b", {}, track.name, ...(track.note ? [el("i", { class: "slip", title: track.note })] : [])),
      el("span", { class: `st ${track.fate}` }, el("i"), el("em", {}, words)),
    );
    head.addEventListener("click", () => this.select({ track: i, clip: -1 }));
    document.getElementById("heads").append(head);
    return head;
  }
  /** Open ones by what they would cost, then those that were answered; each opens to all that has it. Gives the rows of all objects. */
  listFlags() {
    const { groups } = this.survey,
      list = document.getElementById("flags");
    let under = null;
    const rows = groups.flatMap(group => {
      const heading = group.open ? COSTS[group.cost] : "answered";
      if (heading !== under) list.append(el("li", { class: "cost" }, (under = heading)));
      const row = flagRow(
        group,
        flag => this.toFlag(this.survey.flags.indexOf(flag)),
        flag => this.hear(flag),
      );
      list.append(row.group);
      return row.objects;
    });
    const open = groups.filter(g => g.open);
    const count = open.length
      ? [el("i", { class: "pennant" }), `${open.length} ${open.length === 1 ? "flag" : "flags"} open`]
      : [groups.length ? "No flag open" : "No flags"];
    document.getElementById("flagcount").replaceChildren(...count);
    document.getElementById("headline").textContent = open.length ? open[0].title : "nothing in the way";
    return rows;
  }
  /** The sound where a flag is, of its track alone. */
  hear(flag) {
    this.toFlag(this.survey.flags.indexOf(flag));
    this.listening.stop();
    position.set(Math.max(0, flag.at - this.survey.rate / 2));
    this.toggleListening(flag.track);
  }
  /** Heads beside the lanes that are in view, and the view in the overview. */
  paintAround() {
    const { canvas, chart, survey } = this,
      height = canvas.clientHeight - TOP;
    this.heads.forEach((head, i) => {
      const top = i * chart.laneHeight - chart.scroll,
        shown = top > -chart.laneHeight && top < height;
      head.hidden = !shown;
      if (!shown) return;
      head.style.top = `${top}px`;
      head.style.height = `${chart.laneHeight}px`;
      head.classList.toggle("on", chart.selected?.track === i);
    });
    this.reel?.paint();
    const span = survey.end * 1.04,
      low = -survey.end * 0.02,
      overview = document.querySelector("#overview i");
    overview.style.left = `${Math.max(0, ((chart.from - low) / span) * 100)}%`;
    overview.style.width = `${Math.min(100, ((canvas.clientWidth * chart.perPixel) / span) * 100)}%`;
  }
  toFlag(i) {
    const { flags } = this.survey;
    this.flagAt = (i + flags.length) % flags.length;
    const flag = flags[this.flagAt],
      rowOf = () => this.survey.tracks.findIndex(x => x.id === flag.track && !x.spare);
    if (flag.track && rowOf() < 0) this.showAll();
    const { tracks } = this.survey,
      t = rowOf();
    this.flagRows.forEach((row, k) => row.classList.toggle("on", k === this.flagAt));
    this.flagRows[this.flagAt].closest("details").open = true;
    this.flagRows[this.flagAt].scrollIntoView({ block: "nearest" });
    if (t >= 0) {
      this.select({ track: t, clip: tracks[t].clips.findIndex(c => c[C.id] === flag.clip) });
      this.chart.showTrack(t);
    } else this.fill(flag.title, [["", flag.detail]]);
    if (flag.at !== undefined) this.go(flag.at);
  }
  go(sample) {
    this.chart.show(sample);
    position.set(sample);
  }
  select(what) {
    const { chart, clock, survey } = this;
    chart.selected = what;
    if (!what) this.fill("Nothing selected", []);
    else if (what.marker) this.fill(what.marker.text, markerFacts(what.marker, clock), markerForm(what.marker));
    else {
      this.currentTrack = what.track;
      const track = survey.tracks[what.track];
      const clip = track.clips[what.clip];
      const note = track.notes[what.note];
      if (clip)
        this.fill(
          `${track.name}, clip ${what.clip + 1}`,
          clipFacts(clip, survey, clock),
          noteForm(track.id, clip[C.id], clip[C.note]),
          this.takeAlone(track, { clip: clip[C.id] }, "this clip"),
        );
      else if (note)
        this.fill(
          `${track.name}, note ${what.note + 1}`,
          noteFacts(track, note, survey, clock),
          this.takeAlone(track, { part: track.parts[note[N.part]].id }, `the part ${track.parts[note[N.part]].name}`),
        );
      else
        this.fill(
          track.name,
          trackFacts(track, shown => this.showControl(track, shown)),
          noteForm(track.id, "", track.note),
          this.takeAlone(track, {}, "this track"),
        );
    }
    chart.draw();
  }
  /** What can be taken of it alone: all of it, or what lies in the range. */
  takeAlone(track, thing, words) {
    const { range } = this.chart;
    const part = range
      ? `${words}, from ${grouped(range.start)} to ${grouped(range.end)} samples`
      : `${words}, whole. Keys , and . set a range at the position.`;
    return aloneForm(track, { ...thing, range }, part);
  }
  /** One end of the range goes to the position; where it has no other, or the other lies on the wrong side, there is none yet. */
  rangeAt(end) {
    const { chart } = this,
      at = position.sample;
    this.ends = { ...this.ends, [end]: at };
    const { start, end: last } = this.ends;
    if (start !== undefined && last !== undefined && start >= last) this.ends = { [end]: at };
    chart.range = this.ends.start !== undefined && this.ends.end !== undefined ? { ...this.ends } : null;
    chart.ends = this.ends;
    this.select(chart.selected);
  }
  noRange() {
    this.ends = {};
    Object.assign(this.chart, { range: null, ends: {} });
    this.select(this.chart.selected);
  }
  showControl(track, shown) {
    track.shown = shown;
    this.chart.draw();
  }
  /** A marker at the position, to be named. */
  newMarker() {
    this.fill("New marker", [], markerForm({ text: "", at: position.sample, length: 0 }));
    document.querySelector("#selected input[name=text]").focus();
  }
  fill(title, rows, ...forms) {
    const [form] = forms;
    const line = ([name, value]) => el("tr", {}, el("td", {}, name), el("td", {}, value instanceof Node ? value : String(value)));
    const body = rows.length
      ? el("table", {}, el("tbody", {}, ...rows.map(line)))
      : el(
          "p",
          { class: "soft" },
          form ? "It lies at the position until you say otherwise." : "Select a clip, a track, a marker or a flag; its numbers stand here.",
        );
    document.getElementById("selected").replaceChildren(el("h2", {}, title), body, ...forms.filter(f => f));
  }
  listen() {
    const { canvas, chart, survey } = this;
    this.heardFrom = 0;
    this.alone = false;
    this.listening = new Listen(seconds => {
      chart.playing = seconds === null ? null : this.heardFrom + seconds * survey.rate;
      this.reel?.heard(chart.playing);
      const outside = seconds !== null && (chart.x(chart.playing) > canvas.clientWidth || chart.x(chart.playing) < 0);
      if (outside) chart.from = chart.playing - canvas.clientWidth * chart.perPixel * 0.05;
      for (const id of ["listen", "listen-track"])
        document.getElementById(id).setAttribute("aria-pressed", this.listening?.on && (id === "listen-track") === this.alone);
      chart.draw();
    });
    canvas.listening = this.listening;
  }
  /** Listens from the position on, to everything or to one track; or stops. */
  toggleListening(track) {
    if (this.listening.on) {
      this.listening.stop();
      return;
    }
    this.heardFrom = position.sample;
    this.alone = track !== null;
    const only = track === null ? "" : `&track=${encodeURIComponent(track)}`;
    const grid = document.getElementById("grid").value;
    // The accents of the click are this receiver's.
    const click = grid && `&click=${grid}${document.body.dataset.query.replace("?", "&")}`;
    this.listening.play(`/transfers/${transfer}/listen?from=${this.heardFrom}${only}${click}`);
  }
  /** Goes on from where it is heard, as it is asked for now. */
  again() {
    const { alone } = this;
    position.set(Math.round(this.chart.playing ?? position.sample));
    this.listening.stop();
    this.toggleListening(alone ? this.survey.tracks[this.currentTrack].id : null);
  }
  listenAlone() {
    this.toggleListening(this.survey.tracks[this.currentTrack].id);
  }
  /** The track that the address asks for. */
  jump() {
    const asked = decodeURIComponent(location.hash.match(/^#track=(.+)$/)?.[1] ?? "");
    if (!asked) return;
    const rowOf = () => this.survey.tracks.findIndex(t => t.id === asked && !t.spare);
    if (rowOf() < 0) this.showAll();
    if (rowOf() < 0) return;
    this.select({ track: rowOf(), clip: -1 });
    this.chart.showTrack(rowOf());
  }
  /** Shows the picture, or puts it away. */
  watch() {
    if (this.reel) document.getElementById("watch").setAttribute("aria-expanded", this.reel.toggle());
  }
  /** The clip before or after, or the note on a track that has no clips. */
  clipStep(by) {
    const track = this.survey.tracks[this.currentTrack],
      what = track.clips.length ? "clip" : "note",
      items = track.clips.length ? track.clips : track.notes;
    if (!items.length) return;
    const at = this.chart.selected?.track === this.currentTrack ? (this.chart.selected[what] ?? -1) : -1,
      next = Math.min(items.length - 1, Math.max(0, at + by));
    this.select({ track: this.currentTrack, clip: -1, [what]: next });
    this.go(items[next][what === "clip" ? C.start : N.start]);
  }
  trackStep(by) {
    const t = Math.min(this.survey.tracks.length - 1, Math.max(0, this.currentTrack + by));
    this.select({ track: t, clip: -1 });
    this.chart.showTrack(t);
  }
  zoomAtPosition(factor) {
    const x = this.chart.x(this.chart.at);
    this.chart.zoom(factor, x > 0 && x < this.canvas.clientWidth ? x : undefined);
  }
  singleSamples() {
    this.chart.perPixel = 1 / 12;
    this.chart.from = position.sample - (this.canvas.clientWidth / 2) * this.chart.perPixel;
    this.chart.draw();
  }
  wire() {
    const { canvas, chart, survey } = this,
      step = () => Math.max(1, Math.round(chart.perPixel * 8));
    new Pointer(canvas, chart, this.clock, this.map, what => this.select(what));
    position.onSet(sample => {
      chart.at = sample;
      chart.show(sample);
      if (!this.listening.on) this.reel?.at(sample);
    });
    chart.at = position.sample;
    document.getElementById("listen").addEventListener("click", () => this.toggleListening(null));
    document.getElementById("listen-track").addEventListener("click", () => this.listenAlone());
    document.getElementById("grid").addEventListener("change", () => this.listening.on && this.again());
    document.getElementById("new-marker").addEventListener("click", () => this.newMarker());
    document.getElementById("whole").addEventListener("click", () => chart.whole());
    for (const id of ["order", "show", "takes"]) document.getElementById(id).addEventListener("change", () => this.arrange());
    const height = document.getElementById("height");
    height.addEventListener("change", () => {
      chart.laneHeight = Number(height.value);
      chart.draw();
    });
    chart.laneHeight = Number(height.value);
    document.getElementById("watch")?.addEventListener("click", () => this.watch());
    keys({
      a: () => this.toggleListening(null),
      o: () => this.listenAlone(),
      ArrowLeft: () => position.set(position.sample - step()),
      ArrowRight: () => position.set(position.sample + step()),
      "Shift ArrowLeft": () => chart.pan(-canvas.clientWidth * 0.8),
      "Shift ArrowRight": () => chart.pan(canvas.clientWidth * 0.8),
      ArrowUp: () => this.trackStep(-1),
      ArrowDown: () => this.trackStep(1),
      "[": () => this.clipStep(-1),
      "]": () => this.clipStep(1),
      "+": () => this.zoomAtPosition(0.5),
      "=": () => this.zoomAtPosition(0.5),
      "-": () => this.zoomAtPosition(2),
      "−": () => this.zoomAtPosition(2),
      n: () => this.newMarker(),
      ",": () => this.rangeAt("start"),
      ".": () => this.rangeAt("end"),
      x: () => this.noRange(),
      t: () => document.querySelector("#alone button")?.focus(),
      m: () => this.map.toggle(),
      b: () => this.map.open && this.map.tap(),
      f: () => survey.flags.length && this.toFlag(this.flagAt + 1),
      h: () => position.set(0),
      e: () => position.set(survey.end),
      w: () => chart.whole(),
      s: () => this.singleSamples(),
      p: () => this.watch(),
    });
  }
}

const canvas = document.getElementById("chart");
if (canvas) {
  const survey = await (await fetch(`/transfers/${transfer}/survey.json${document.body.dataset.query}`)).json();
  await document.fonts.ready;
  new SurveyDesk(canvas, survey);
}
