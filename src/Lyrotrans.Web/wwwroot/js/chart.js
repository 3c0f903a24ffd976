// The survey chart. Silhouettes rise from a baseline (mono) and mirror below it (stereo and more); brackets bound a clip, handles
// are hatched beyond them, fades are wedges and shape the silhouette, crossfades are cross-hatched. Only what is in view is drawn.
import { css } from "./words.js";
import { SHAPES } from "./fades.js";

export const TOP = 88;
// Places in a clip's row as the server sends it.
export const C = {
  id: 0,
  name: 1,
  media: 2,
  start: 3,
  length: 4,
  offset: 5,
  gain: 6,
  inLength: 7,
  inShape: 8,
  outLength: 9,
  outShape: 10,
  muted: 11,
  before: 12,
  after: 13,
  channel: 14,
  channels: 15,
  note: 16,
};

// Places in a note's row.
export const N = { start: 0, end: 1, key: 2, velocity: 3, muted: 4, tick: 5, length: 6, channel: 7, release: 8, part: 9 };

export class Chart {
  constructor(canvas, survey, clock, peaks) {
    this.playing = null;
    this.range = null;
    this.ends = {};
    Object.assign(this, {
      canvas,
      survey,
      clock,
      peaks,
      laneHeight: 44,
      scroll: 0,
      selected: null,
      at: 0,
      pending: false,
      editing: false,
      draft: null,
    });
    this.from = -survey.rate * 1.5;
    this.perPixel = 1;
    this.readInk();
    new ResizeObserver(() => {
      this.size();
      this.draw();
    }).observe(canvas);
    new MutationObserver(() => {
      this.readInk();
      this.draw();
    }).observe(document.documentElement, { attributes: true });
    this.size();
  }
  readInk() {
    this.ink = Object.fromEntries(
      ["ink", "ink-2", "ink-3", "rule", "rule-2", "sheet", "flag", "carried", "converted", "printed", "held"].map(n => [n, css(`--${n}`)]),
    );
    this.numberFont = `500 ${css("--type-1")} ${css("--number")}`;
    this.boldNumber = `700 ${css("--type-1")} ${css("--number")}`;
    this.textFont = `500 ${css("--type-1")} ${css("--text")}`;
    this.nameFont = `500 ${css("--type-1")} ${css("--text")}`;
  }
  size() {
    const ratio = window.devicePixelRatio || 1;
    this.width = this.canvas.clientWidth;
    this.height = this.canvas.clientHeight;
    this.canvas.width = this.width * ratio;
    this.canvas.height = this.height * ratio;
    this.g = this.canvas.getContext("2d");
    this.g.setTransform(ratio, 0, 0, ratio, 0, 0);
  }
  x(sample) {
    return (sample - this.from) / this.perPixel;
  }
  sampleAt(x) {
    return this.from + x * this.perPixel;
  }
  whole() {
    this.perPixel = (this.survey.end * 1.045) / Math.max(100, this.width);
    this.from = -this.survey.end * 0.02;
    this.draw();
  }
  limits() {
    this.perPixel = Math.min(Math.max(this.perPixel, 1 / 40), (this.survey.end * 1.6) / Math.max(100, this.width));
    const span = this.width * this.perPixel,
      reach = Math.max(this.survey.end * 0.1, this.survey.rate);
    this.from = Math.max(-reach, Math.min(this.from, this.survey.end + reach - span * 0.2));
    const lanes = this.survey.tracks.length * this.laneHeight;
    this.scroll = Math.max(0, Math.min(this.scroll, lanes - (this.height - TOP) + 20));
  }
  zoom(factor, x = this.width / 2) {
    const held = this.sampleAt(x);
    this.perPixel *= factor;
    this.limits();
    this.from = held - x * this.perPixel;
    this.draw();
  }
  pan(pixels) {
    this.from += pixels * this.perPixel;
    this.draw();
  }
  show(sample) {
    const x = this.x(sample);
    if (x < 40 || x > this.width - 40) this.from = sample - this.width * 0.3 * this.perPixel;
    this.draw();
  }
  showTrack(index) {
    const top = index * this.laneHeight,
      window = this.height - TOP;
    if (top < this.scroll) this.scroll = top;
    else if (top + this.laneHeight > this.scroll + window) this.scroll = top + this.laneHeight - window;
    this.draw();
  }
  draw() {
    if (!this.pending) {
      this.pending = true;
      requestAnimationFrame(() => {
        this.pending = false;
        this.limits();
        this.paint();
        this.onPaint?.();
      });
    }
  }
  trackAt(y) {
    const i = Math.floor((y - TOP + this.scroll) / this.laneHeight);
    return y < TOP || i < 0 || i >= this.survey.tracks.length ? -1 : i;
  }
  /** What lies under a point: a clip, a marker, a flag's pennant or nothing. */
  hit(x, y) {
    if (y < TOP && y > TOP - 18) {
      const marker = this.survey.markers.find(m => Math.abs(this.x(m.at) - x) < 7);
      return marker ? { marker } : null;
    }
    const t = this.trackAt(y);
    if (t < 0) return null;
    const sample = this.sampleAt(x),
      slack = 3 * this.perPixel,
      { clips, notes, noteY } = this.survey.tracks[t];
    if (notes.length && noteY) {
      const away = n => (sample < n[N.start] - slack || sample > n[N.end] + slack ? Infinity : Math.abs(noteY(n[N.key]) - y));
      const note = notes.reduce((best, n, i) => (away(n) < (best < 0 ? 6 : away(notes[best])) ? i : best), -1);
      if (note >= 0) return { track: t, clip: -1, note };
    }
    for (let i = this.firstEndingAfter(clips, sample - slack); i < clips.length && clips[i][C.start] <= sample + slack; i++)
      if (sample >= clips[i][C.start] - slack && sample <= clips[i][C.start] + clips[i][C.length] + slack) {
        const next = clips[i + 1];
        return { track: t, clip: next && sample >= next[C.start] ? i + 1 : i };
      }
    return { track: t, clip: -1 };
  }
  // Clips ascend; at most the one before can still reach in.
  firstEndingAfter(clips, sample) {
    let low = 0,
      high = clips.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (clips[middle][C.start] + clips[middle][C.length] <= sample) low = middle + 1;
      else high = middle;
    }
    return Math.max(0, low - 1);
  }
  paint() {
    const { g, width, height } = this;
    g.fillStyle = this.ink.sheet;
    g.fillRect(0, 0, width, height);
    this.paintBars();
    this.paintTimecode();
    this.paintTempo();
    this.paintMarkers();
    g.save();
    g.beginPath();
    g.rect(0, TOP, width, height - TOP);
    g.clip();
    const first = Math.max(0, Math.floor(this.scroll / this.laneHeight)),
      last = Math.min(this.survey.tracks.length, Math.ceil((this.scroll + height - TOP) / this.laneHeight));
    for (let t = first; t < last; t++) this.paintLane(this.survey.tracks[t], TOP + t * this.laneHeight - this.scroll, t);
    this.paintCut();
    this.paintRange();
    g.restore();
    this.paintPosition();
    this.paintPlaying();
  }
  // What lies before the start or after the end of the files lies under a veil.
  paintCut() {
    const { g, survey, width, height } = this,
      { start, end } = survey.files;
    for (const [from, to, edge] of [
      [0, this.x(start), this.x(start)],
      [this.x(end), width, this.x(end)],
    ]) {
      if (to <= 0 || from >= width) continue;
      g.globalAlpha = 0.5;
      g.fillStyle = this.ink["rule-2"];
      g.fillRect(Math.max(0, from), TOP, Math.min(width, to) - Math.max(0, from), height - TOP);
      g.globalAlpha = 1;
      g.fillStyle = this.ink["ink-3"];
      g.fillRect(Math.round(edge), TOP, 1, height - TOP);
    }
  }
  // The range that things are taken alone in: between two posts, one of which may still be missing.
  paintRange() {
    const { g, ink, height } = this,
      { start, end } = this.ends;
    g.fillStyle = ink.carried;
    for (const at of [start, end]) if (at !== undefined) g.fillRect(Math.round(this.x(at)), TOP, 2, height - TOP);
    if (!this.range) return;
    g.globalAlpha = 0.12;
    g.fillRect(this.x(start), TOP, (end - start) / this.perPixel, height - TOP);
    g.globalAlpha = 1;
  }
  rule(y, colour) {
    const { g } = this;
    g.strokeStyle = colour;
    g.lineWidth = 1;
    g.beginPath();
    g.moveTo(0, Math.round(y) + 0.5);
    g.lineTo(this.width, Math.round(y) + 0.5);
    g.stroke();
  }
  paintBars() {
    const { g, ink } = this,
      bars = (this.draft ?? this.survey).bars;
    g.font = this.numberFont;
    g.textBaseline = "middle";
    g.textAlign = "left";
    const perBar = bars.length > 1 ? (bars.at(-1)[1] - bars[0][1]) / (bars.length - 1) / this.perPixel : 100;
    const every = [1, 2, 4, 8, 16, 32, 64, 128].find(n => n * perBar > 46) || 256,
      faint = perBar > 7;
    let taken = -99;
    for (let i = 0; i < bars.length; i++) {
      const [bar, at, meter] = bars[i],
        x = Math.round(this.x(at)) + 0.5;
      if (x < -60 || x > this.width) continue;
      const strong = (((bar - 1) % every) + every) % every === 0;
      if (!strong && !faint && !meter) continue;
      g.strokeStyle = strong ? ink.rule : ink["rule-2"];
      g.lineWidth = 1;
      g.beginPath();
      g.moveTo(x, strong ? 0 : 13);
      g.lineTo(x, this.height);
      g.stroke();
      if ((strong || meter) && x > taken) {
        g.fillStyle = ink.ink;
        g.fillText(String(bar).replace("-", "−"), x + 4, 9);
        let end = x + 8 + g.measureText(bar).width;
        if (meter) {
          g.font = this.boldNumber;
          g.fillText(meter, end, 9);
          end += g.measureText(meter).width + 8;
          g.font = this.numberFont;
        }
        taken = end;
      }
    }
  }
  paintTimecode() {
    const { g, ink } = this,
      rate = this.survey.rate,
      frame = rate / this.survey.frames.perSecond;
    const step =
      [
        frame,
        frame * 5,
        rate,
        rate * 2,
        rate * 5,
        rate * 10,
        rate * 20,
        rate * 30,
        rate * 60,
        rate * 120,
        rate * 300,
        rate * 600,
        rate * 1800,
      ].find(v => v / this.perPixel > 112) || rate * 3600;
    g.font = this.numberFont;
    g.textAlign = "left";
    for (let n = Math.ceil(this.from / step); n * step < this.from + this.width * this.perPixel; n++) {
      const at = Math.round(n * step),
        x = Math.round(this.x(at)) + 0.5;
      g.strokeStyle = ink["ink-3"];
      g.beginPath();
      g.moveTo(x, 18);
      g.lineTo(x, 31);
      g.stroke();
      g.fillStyle = ink["ink-3"];
      g.fillText(this.clock.timecode(at), x + 4, 24);
    }
    if (this.perPixel < 0.2) {
      g.strokeStyle = ink["rule-2"];
      g.beginPath();
      for (let s = Math.ceil(this.from); s < this.from + this.width * this.perPixel; s++) {
        const x = Math.round(this.x(s)) + 0.5;
        g.moveTo(x, 26);
        g.lineTo(x, 31);
      }
      g.stroke();
    }
    this.rule(32, ink["ink-2"]);
  }
  paintTempo() {
    const { g, ink } = this,
      points = (this.draft ?? this.survey).tempo,
      y = v => this.tempoY(v);
    if (this.draft) {
      g.setLineDash([2, 3]);
      this.tempoLine(this.survey.tempo, ink["ink-3"], 1);
      g.setLineDash([]);
    }
    this.tempoLine(points, this.draft ? ink.converted : ink.ink, 1.4);
    g.font = this.numberFont;
    g.fillStyle = ink.ink;
    g.textAlign = "left";
    let free = -99;
    for (const p of points) {
      const x = this.x(p.at);
      if (x < -40 || x > this.width + 10) continue;
      g.beginPath();
      g.arc(x, y(p.tempo), this.editing ? 3.6 : 2.2, 0, 7);
      g.fill();
      const text = String(Math.round(p.tempo * 1000) / 1000),
        w = g.measureText(text).width,
        place = Math.min(Math.max(x + 5, 3), this.width - w - 4);
      if (place > free) {
        g.fillText(text, place, y(p.tempo) > 50 ? y(p.tempo) - 7 : y(p.tempo) + 9);
        free = place + w + 4;
      }
    }
    this.rule(70, ink.rule);
  }
  tempoScale() {
    const all = [...this.survey.tempo, ...(this.draft?.tempo ?? [])].map(p => p.tempo);
    return { low: Math.min(...all) - 4, high: Math.max(...all) + 4 };
  }
  tempoY(tempo) {
    const { low, high } = this.tempoScale();
    return 64 - ((tempo - low) / (high - low)) * 26;
  }
  tempoAtY(y) {
    const { low, high } = this.tempoScale();
    return low + ((64 - y) / 26) * (high - low);
  }
  tempoLine(points, colour, width) {
    const { g } = this,
      y = v => this.tempoY(v);
    g.strokeStyle = colour;
    g.lineWidth = width;
    g.beginPath();
    g.moveTo(0, y(points[0].tempo));
    for (let i = 0; i < points.length; i++) {
      const p = points[i],
        n = points[i + 1];
      if (i > 0 && !points[i - 1].ramp) g.lineTo(this.x(p.at), y(points[i - 1].tempo));
      g.lineTo(this.x(p.at), y(p.tempo));
      if (!n) g.lineTo(Math.max(this.width, this.x(p.at)), y(p.tempo));
    }
    g.stroke();
  }
  /** The tempo point under the pointer while the map is edited; −1 where there is none. */
  tempoPointAt(x, y) {
    if (!this.editing || y < 32 || y > 70) return -1;
    return (this.draft ?? this.survey).tempo.findIndex(p => Math.abs(this.x(p.at) - x) < 7 && Math.abs(this.tempoY(p.tempo) - y) < 9);
  }
  paintMarkers() {
    const { g, ink } = this;
    g.font = this.textFont;
    g.textAlign = "left";
    const y = 70;
    let free = -999;
    for (const m of this.survey.markers) {
      const x = Math.round(this.x(m.at)) + 0.5;
      if (x > this.width + 5 || this.x(m.at + m.length) < -200) continue;
      if (m.length) {
        g.fillStyle = ink.rule;
        g.fillRect(x, y + 14, m.length / this.perPixel, 3);
      }
      g.strokeStyle = ink.ink;
      g.lineWidth = 1;
      g.setLineDash([1, 3]);
      g.beginPath();
      g.moveTo(x, y);
      g.lineTo(x, this.height);
      g.stroke();
      g.setLineDash([]);
      g.fillStyle = ink.ink;
      g.beginPath();
      g.moveTo(x, y + 3);
      g.lineTo(x + 5, y + 8.5);
      g.lineTo(x, y + 14);
      g.lineTo(x - 5, y + 8.5);
      g.fill();
      if (this.selected?.marker === m) {
        g.strokeRect(x - 8, y + 1, 16, 15);
      }
      if (x + 9 > free) {
        g.fillText(m.text, x + 9, y + 9);
        free = x + 14 + g.measureText(m.text).width;
      }
    }
    this.rule(88, ink["ink-2"]);
  }
  paintLane(track, y, index) {
    const { g, ink } = this,
      h = this.laneHeight,
      notes = track.kind === "notes",
      mirror = track.channels > 1,
      held = track.fate === "held";
    const base = mirror || notes ? y + h / 2 : y + h - 5;
    const ground = ink.sheet;
    if (!notes) {
      g.globalAlpha = 1;
      this.rule(base, ink["rule-2"]);
    }
    g.globalAlpha = held ? 0.5 : 1;
    // What is printed keeps its ink here; the state stands in the head. Colour in the lane is for what changes form or stays.
    const colour = held ? ink["ink-3"] : ink.ink;
    if (notes) this.paintNotes(track, y, h, colour, index);
    const clips = track.clips,
      end = this.from + this.width * this.perPixel;
    let run = null;
    for (
      let i = this.firstEndingAfter(clips, this.from - this.survey.rate * 3);
      i < clips.length && clips[i][C.start] < end + this.survey.rate * 3;
      i++
    ) {
      const width = clips[i][C.length] / this.perPixel;
      if (width < 1.5) {
        const x = this.x(clips[i][C.start]);
        if (run === null || x > run + 1) {
          g.fillStyle = colour;
          g.fillRect(x, y + h * 0.4, 1.2, h * 0.5);
          run = x;
        }
        continue;
      }
      this.paintClip(track, clips[i], clips[i + 1], y, h, base, mirror, colour, ground, index, i);
    }
    if (track.ride) this.paintRide(track.ride, y, h);
    g.globalAlpha = 1;
    for (const [at, numbers] of this.pennants(track)) this.paintPennant(at, numbers, y, h);
    this.rule(y + h, ink["rule-2"]);
  }
  paintClip(track, clip, next, y, h, base, mirror, colour, ground, t, index) {
    const { g, ink } = this,
      x0 = this.x(clip[C.start]),
      end = clip[C.start] + clip[C.length],
      x1 = this.x(end),
      top = y + 4,
      bottom = mirror ? y + h - 3 : base;
    this.paintSound(clip, y, h, x0, x1, base, mirror, colour);
    this.paintBrackets(x0, x1, top, bottom, colour);
    this.wedge(x0, x0 + clip[C.inLength] / this.perPixel, top, bottom, clip[C.inShape], colour, false);
    this.wedge(x1 - clip[C.outLength] / this.perPixel, x1, top, bottom, clip[C.outShape], colour, true);
    if (next && next[C.start] < end && !next[C.muted] && !clip[C.muted]) {
      const from = this.x(next[C.start]);
      this.hatch(from, top, x1 - from, bottom - top, ink["ink-2"], 4, true);
    }
    if (clip[C.note]) this.paintSlip(Math.max(x0 + 2, x1 - 11), top + 2);
    if (x1 - x0 > 46) this.paintName(track, clip, x0, x1, y, h, ground);
    if (this.selected && this.selected.track === t && this.selected.clip === index) {
      g.strokeStyle = ink.ink;
      g.lineWidth = 2;
      g.strokeRect(x0 - 3, top - 2.5, x1 - x0 + 6, bottom - top + 5);
    }
  }
  /** A slip of paper: somebody wrote something to this clip. */
  paintSlip(x, y) {
    const { g, ink } = this;
    g.fillStyle = ink.sheet;
    g.strokeStyle = ink.ink;
    g.lineWidth = 1;
    g.fillRect(x, y, 8, 10);
    g.strokeRect(x + 0.5, y + 0.5, 8, 10);
    g.beginPath();
    for (const line of [3.5, 5.5, 7.5]) {
      g.moveTo(x + 2, y + line);
      g.lineTo(x + (line > 7 ? 5 : 7), y + line);
    }
    g.stroke();
  }
  /** The sound of a clip with what its medium has beyond it; a dashed box where the medium is missing. */
  paintSound(clip, y, h, x0, x1, base, mirror, colour) {
    const { g, ink } = this,
      media = this.survey.media[clip[C.media]],
      amp = mirror ? h * 0.42 : h - 14;
    if (media.missing) {
      g.save();
      g.setLineDash([3, 3]);
      g.strokeStyle = ink.flag;
      g.strokeRect(x0 + 3, y + 10, x1 - x0 - 6, h - 18);
      g.restore();
      return;
    }
    const most = x1 - x0 < 24 ? 0 : Math.min(90, (this.survey.rate * 2) / this.perPixel),
      before = Math.max(0, Math.min(most, clip[C.before] / this.perPixel)),
      after = Math.max(0, Math.min(most, clip[C.after] / this.perPixel)),
      shade = clip[C.muted] ? ink["ink-3"] : colour;
    if (before > 2) this.ghost(clip, media, x0 - before, x0, base, amp, mirror);
    if (after > 2) this.ghost(clip, media, x1, x1 + after, base, amp, mirror);
    this.silhouette(clip, media, Math.max(x0, -2), Math.min(x1, this.width + 2), x0, x1, base, amp, mirror, shade, true);
  }
  /** Where a clip begins and ends; one line for a clip too narrow for two. */
  paintBrackets(x0, x1, top, bottom, colour) {
    const { g, ink } = this,
      narrow = x1 - x0 < 12,
      foot = narrow ? 0 : 4,
      begin = [x0, 1],
      end = [x1, -1];
    g.strokeStyle = narrow ? ink["ink-3"] : colour;
    g.lineWidth = narrow ? 0.7 : 1.3;
    for (const [x, side] of narrow ? [begin] : [begin, end]) {
      g.beginPath();
      g.moveTo(x + foot * side, top);
      g.lineTo(x, top);
      g.lineTo(x, bottom);
      g.lineTo(x + foot * side, bottom);
      g.stroke();
    }
  }
  /** Name and gain of a clip, on a ground that lets the sound through; beside a pennant where one stands there. */
  paintName(track, clip, x0, x1, y, h, ground) {
    const { g, ink } = this,
      alpha = g.globalAlpha,
      gain = clip[C.gain] ? `  ${clip[C.gain] > 0 ? "+" : "−"}${Math.abs(clip[C.gain])} dB` : "",
      text = clip[C.name] + gain,
      pennant = [...this.pennants(track)].find(([at]) => Math.abs(this.x(at) - x0) < 14),
      place = Math.max(x0, 0) + (pennant && x0 >= -10 ? 14 + pennant[1].join(" ").length * 7 : 7);
    g.save();
    g.beginPath();
    g.rect(x0 + 5, y, x1 - x0 - 8, h);
    g.clip();
    g.font = this.nameFont;
    g.textAlign = "left";
    g.fillStyle = ground;
    g.globalAlpha = alpha * 0.82;
    g.fillRect(place - 2, y + 2, g.measureText(text).width + 4, 11);
    g.globalAlpha = alpha;
    g.fillStyle = ink["ink-2"];
    g.fillText(text, place, y + 8);
    g.restore();
  }
  fadeGain(clip, sample) {
    let gain = 1;
    const into = sample - clip[C.start],
      left = clip[C.start] + clip[C.length] - sample;
    if (clip[C.inLength] && into < clip[C.inLength]) gain *= SHAPES[clip[C.inShape]](Math.max(0, into / clip[C.inLength]));
    if (clip[C.outLength] && left < clip[C.outLength]) gain *= SHAPES[clip[C.outShape]](Math.max(0, left / clip[C.outLength]));
    return gain;
  }
  /** Draws the sound between two pixels. The shape is a pair of envelopes, so that a single sample still shows. */
  silhouette(clip, media, from, to, x0, x1, base, amp, mirror, colour, shaped) {
    if (to - from < 1) return;
    const { g } = this,
      ratio = media.rate / this.survey.rate,
      gain = Math.pow(10, clip[C.gain] / 20);
    if (this.perPixel * ratio < 24) {
      if (this.samplesLine(clip, media, from, to, base, amp, mirror, colour, ratio, gain, shaped)) return;
    }
    const level = this.peaks.level(media, this.perPixel * ratio);
    if (!level) return;
    const { pairs, stretch } = level,
      count = pairs.length / (media.channels * 2),
      sides = mirror
        ? [
            [clip[C.channel], 1],
            [clip[C.channel] + 1, -1],
          ]
        : [[clip[C.channel], 1]];
    for (const [channel, sign] of sides) {
      if (channel >= media.channels) continue;
      g.beginPath();
      g.moveTo(from, base);
      for (let x = Math.floor(from); x <= to; x++) {
        const sample = this.sampleAt(x),
          place = clip[C.offset] + (sample - clip[C.start]) * ratio;
        const a = Math.floor(place / stretch),
          b = Math.min(a + 8, Math.max(a, Math.floor((place + this.perPixel * ratio) / stretch) - 1));
        let most = 0;
        for (let i = Math.max(0, a); i <= b && i < count; i++) {
          const p = (i * media.channels + channel) * 2;
          most = Math.max(most, -pairs[p], pairs[p + 1]);
        }
        g.lineTo(
          Math.min(Math.max(x, from), to),
          base -
            sign *
              Math.min(
                amp,
                Math.max(most ? 0.6 : 0, amp * Math.pow((most / 32767) * gain * (shaped ? this.fadeGain(clip, sample) : 1), 0.62)),
              ),
        );
      }
      g.lineTo(to, base);
      g.closePath();
      g.fillStyle = colour;
      const alpha = g.globalAlpha;
      g.globalAlpha = alpha * (sign < 0 ? 0.62 : 0.88);
      g.fill();
      g.globalAlpha = alpha;
    }
  }
  samplesLine(clip, media, from, to, base, amp, mirror, colour, ratio, gain, shaped) {
    const { g } = this,
      first = Math.floor(clip[C.offset] + (this.sampleAt(from) - clip[C.start]) * ratio),
      count = Math.ceil((to - from) * this.perPixel * ratio) + 2;
    const got = this.peaks.samples(media, first, count);
    if (!got) return false;
    const middle = mirror ? base : base - amp / 2,
      reach = amp / 2,
      dots = this.perPixel * ratio < 0.25;
    g.strokeStyle = colour;
    g.fillStyle = colour;
    g.lineWidth = 1;
    g.beginPath();
    for (let i = 0; i < count; i++) {
      const place = first + i,
        at = (place - got.start) * media.channels + clip[C.channel];
      if (at < 0 || at >= got.data.length || place < 0 || place >= media.length) continue;
      const sample = clip[C.start] + (place - clip[C.offset]) / ratio;
      if (shaped && (sample < clip[C.start] || sample >= clip[C.start] + clip[C.length])) continue;
      const x = this.x(sample),
        y = middle - reach * Math.max(-1, Math.min(1, got.data[at] * gain * (shaped ? this.fadeGain(clip, sample) : 1)));
      g.lineTo(x, y);
      if (dots) {
        g.rect(x - 1.5, y - 1.5, 3, 3);
        g.moveTo(x, y);
      }
    }
    g.stroke();
    return true;
  }
  ghost(clip, media, a, b, base, amp, mirror) {
    if (b < 0 || a > this.width) return;
    const { g } = this;
    g.save();
    g.beginPath();
    g.rect(a, base - amp, b - a, mirror ? amp * 2 : amp);
    g.clip();
    const alpha = g.globalAlpha;
    g.globalAlpha = alpha * 0.28;
    this.silhouette(clip, media, Math.max(0, a), Math.min(this.width, b), a, b, base, amp, mirror, this.ink["ink-3"], false);
    g.globalAlpha = alpha * 0.7;
    this.hatch(a, base - amp * 0.4, b - a, amp * (mirror ? 0.8 : 0.4), this.ink["ink-3"], 3, false);
    g.restore();
  }
  wedge(a, b, top, bottom, shape, colour, out) {
    if (b - a < 4) return;
    const { g } = this;
    g.strokeStyle = colour;
    g.lineWidth = 1;
    g.beginPath();
    for (let i = 0; i <= 16; i++) {
      const p = i / 16,
        x = a + (b - a) * p,
        y = bottom - (bottom - top) * SHAPES[shape](out ? 1 - p : p);
      i ? g.lineTo(x, y) : g.moveTo(x, y);
    }
    g.stroke();
  }
  hatch(x, y, w, h, colour, step, cross) {
    if (w < 1 || x > this.width || x + w < 0) return;
    const { g } = this;
    g.save();
    g.beginPath();
    g.rect(x, y, w, h);
    g.clip();
    g.strokeStyle = colour;
    g.lineWidth = 0.8;
    g.beginPath();
    const left = Math.max(-h, -x - h),
      right = Math.min(w, this.width - x);
    for (let i = Math.floor(left / step) * step; i < right; i += step) {
      g.moveTo(x + i, y + h);
      g.lineTo(x + i + h, y);
      if (cross) {
        g.moveTo(x + i, y);
        g.lineTo(x + i + h, y + h);
      }
    }
    g.stroke();
    g.restore();
  }
  /** Where a track's parts begin and end. */
  paintParts(track, y, h) {
    const { g, ink } = this;
    for (const p of track.parts) {
      const x0 = this.x(p.start),
        x1 = this.x(p.end);
      g.strokeStyle = p.muted ? ink.rule : ink["ink-3"];
      g.lineWidth = 1;
      g.setLineDash(p.muted ? [2, 3] : []);
      for (const [x, s] of [
        [x0, 1],
        [x1, -1],
      ]) {
        g.beginPath();
        g.moveTo(x + 4 * s, y + 4);
        g.lineTo(x, y + 4);
        g.lineTo(x, y + h - 4);
        g.lineTo(x + 4 * s, y + h - 4);
        g.stroke();
      }
      g.setLineDash([]);
      if (!p.notes) {
        g.font = this.nameFont;
        g.fillStyle = ink["ink-3"];
        g.textAlign = "left";
        g.fillText(`${p.name}: empty`, Math.max(2, x0 + (track.flagged ? 28 : 7)), y + 9);
      }
    }
  }
  paintNotes(track, y, h, colour, t) {
    const { g, ink } = this;
    let low = 127,
      high = 0;
    this.paintParts(track, y, h);
    const shown = track.controls?.[track.shown ?? 0],
      floor = shown && h > 40 ? y + h * 0.68 : y + h - 4;
    for (const n of track.notes) {
      low = Math.min(low, n[N.key]);
      high = Math.max(high, n[N.key]);
    }
    const end = this.from + this.width * this.perPixel,
      span = Math.max(6, high - low),
      alpha = g.globalAlpha;
    track.noteY = key => floor - 3 - ((key - low) / span) * (floor - y - 11);
    // Of notes that lie on one dot, one is seen; there may be millions.
    const dots = new Int32Array(128).fill(-1e9);
    track.notes.forEach((n, i) => {
      if (n[N.end] < this.from || n[N.start] > end) return;
      const x = this.x(n[N.start]),
        dot = Math.round(x),
        hidden = dots[n[N.key]] === dot && (n[N.end] - n[N.start]) / this.perPixel < 1;
      dots[n[N.key]] = dot;
      if (hidden && !(this.selected?.track === t && this.selected.note === i)) return;
      const wide = Math.max(1.6, (n[N.end] - n[N.start]) / this.perPixel - 0.6),
        thick = 1 + (n[N.velocity] / 127) * 2.2,
        yy = track.noteY(n[N.key]);
      g.globalAlpha = alpha * (0.42 + (0.58 * n[N.velocity]) / 127);
      g.fillStyle = n[N.muted] ? ink.rule : colour;
      g.fillRect(x, yy - thick / 2, wide, thick);
      if (this.selected?.track === t && this.selected.note === i) {
        g.globalAlpha = 1;
        g.strokeStyle = ink.ink;
        g.lineWidth = 1.5;
        g.strokeRect(x - 3, yy - 5, wide + 6, 10);
      }
    });
    g.globalAlpha = alpha;
    if (shown && h > 40) this.paintControl(shown, floor + 3, y + h - 4, colour);
  }
  /** A controller over time: it holds its value until the next. */
  paintControl(control, top, bottom, colour) {
    const { g, ink } = this,
      at = v => bottom - ((v - control.low) / (control.high - control.low)) * (bottom - top),
      points = control.points;
    g.strokeStyle = ink["ink-3"];
    g.lineWidth = 1;
    g.beginPath();
    let last = null;
    for (const [sample, value] of points) {
      const x = this.x(sample);
      if (last !== null) g.lineTo(x, at(last));
      g.lineTo(x, at(value));
      last = value;
    }
    if (last !== null) g.lineTo(Math.max(this.width, this.x(points.at(-1)[0])), at(last));
    g.stroke();
    for (const [sample, value] of points) {
      const x = this.x(sample);
      if (x > -3 && x < this.width + 3) {
        g.fillStyle = colour;
        g.fillRect(x - 1.2, at(value) - 1.2, 2.4, 2.4);
      }
    }
    g.font = this.nameFont;
    const wide = g.measureText(control.name).width;
    g.fillStyle = ink.sheet;
    g.fillRect(this.width - wide - 8, top - 1, wide + 8, 11);
    g.textAlign = "left";
    g.fillStyle = ink["ink-3"];
    g.fillText(control.name, this.width - wide - 5, top + 5);
  }
  paintRide(points, y, h) {
    const { g, ink } = this,
      at = db => y + 6 + ((6 - Math.max(-30, Math.min(6, db))) / 36) * (h - 12);
    g.strokeStyle = ink.carried;
    g.lineWidth = 1.5;
    g.beginPath();
    points.forEach(([s, v], i) => (i ? g.lineTo(this.x(s), at(v)) : g.moveTo(this.x(s), at(v))));
    g.stroke();
    for (const [s, v] of points) {
      g.fillStyle = ink.sheet;
      g.fillRect(this.x(s) - 2, at(v) - 2, 4, 4);
      g.strokeRect(this.x(s) - 2, at(v) - 2, 4, 4);
    }
  }
  /** Flags by place: several at one pixel share a pennant. */
  pennants(track) {
    const places = new Map();
    for (const flag of track.flagged ?? []) {
      const near = [...places.keys()].find(at => Math.abs(at - flag.at) / this.perPixel < 16) ?? flag.at;
      places.set(near, [...(places.get(near) ?? []), flag.number]);
    }
    return places;
  }
  paintPennant(at, numbers, y, h) {
    const { g } = this,
      x = this.x(at);
    if (x > this.width || x < -12) return;
    g.fillStyle = this.ink.flag;
    g.beginPath();
    g.moveTo(x, y + 2);
    g.lineTo(x + 10, y + 6);
    g.lineTo(x + 1.6, y + 10);
    g.lineTo(x + 1.6, y + h - 3);
    g.lineTo(x, y + h - 3);
    g.fill();
    g.font = `700 10px ${css("--number")}`;
    g.textAlign = "left";
    const text = numbers.join(" ");
    g.fillStyle = this.ink.sheet;
    g.fillRect(x + 10.5, y + 2, g.measureText(text).width + 2, 10);
    g.fillStyle = this.ink.flag;
    g.fillText(text, x + 11, y + 7);
  }
  paintPosition() {
    const { g, ink } = this,
      x = Math.round(this.x(this.at)) + 0.5;
    if (x < -5 || x > this.width + 5) return;
    g.strokeStyle = ink.ink;
    g.lineWidth = 1;
    g.beginPath();
    g.moveTo(x, 0);
    g.lineTo(x, this.height);
    g.stroke();
    g.fillStyle = ink.ink;
    g.beginPath();
    g.moveTo(x - 5, 0);
    g.lineTo(x + 5, 0);
    g.lineTo(x, 7);
    g.fill();
  }
  /** Where it is being listened to: a doubled line, apart from the place that is set. */
  paintPlaying() {
    if (this.playing === null) return;
    const { g, ink } = this,
      x = Math.round(this.x(this.playing)) + 0.5;
    g.strokeStyle = ink.ink;
    g.lineWidth = 1;
    g.beginPath();
    for (const at of [x, x + 3]) {
      g.moveTo(at, 0);
      g.lineTo(at, this.height);
    }
    g.stroke();
  }
}
