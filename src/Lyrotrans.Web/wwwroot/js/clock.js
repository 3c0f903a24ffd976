// Sample to timecode, bars and seconds for what moves under the pointer; doubles are enough to show, typed places go to the server.
import { grouped } from "./words.js";

export class Clock {
  constructor(survey) {
    this.rate = survey.rate;
    this.tempo = survey.tempo;
    this.meters = survey.meters;
    this.frames = survey.frames;
  }
  quarterAt(sample) {
    let i = 0;
    while (i + 1 < this.tempo.length && this.tempo[i + 1].at <= sample) i++;
    const piece = this.tempo[i],
      next = this.tempo[i + 1];
    const seconds = (sample - piece.at) / this.rate;
    if (!piece.ramp || !next || seconds < 0) return piece.quarter + (seconds * piece.tempo) / 60;
    const slope = (next.tempo - piece.tempo) / (next.quarter - piece.quarter);
    return slope === 0
      ? piece.quarter + (seconds * piece.tempo) / 60
      : piece.quarter + (piece.tempo / slope) * Math.expm1((slope * seconds) / 60);
  }
  bars(sample) {
    return this.barsOf(this.quarterAt(sample));
  }
  barsOf(exact) {
    const quarter = Math.round(exact * 960) / 960 + 1e-9;
    let i = this.meters.length - 1;
    while (i > 0 && this.meters[i].quarter > quarter) i--;
    const meter = this.meters[i],
      perBeat = 4 / meter.unit,
      perBar = perBeat * meter.beats;
    const bars = Math.floor((quarter - meter.quarter) / perBar),
      inBar = quarter - meter.quarter - bars * perBar;
    const beat = Math.min(meter.beats - 1, Math.floor(inBar / perBeat));
    return `${meter.bar + bars}.${beat + 1}.${Math.floor((inBar - beat * perBeat) * 960)}`;
  }
  timecode(sample) {
    const perFrame = this.rate / this.frames.perSecond;
    let frame = Math.floor(sample / perFrame);
    if (Math.round((frame + 1) * perFrame) <= sample) frame++;
    const sub = Math.round(sample - Math.round(frame * perFrame));
    return this.label(frame + this.frames.start) + (sub > 0 ? ` +${sub}` : "");
  }
  label(frames) {
    const { nominal, drop, day } = this.frames;
    frames = ((frames % day) + day) % day;
    if (drop) {
      const perTen = nominal * 600 - drop * 9,
        perMinute = nominal * 60 - drop,
        tens = Math.floor(frames / perTen),
        rest = frames % perTen;
      frames += drop * (tens * 9 + (rest < nominal * 60 ? 0 : 1 + Math.floor((rest - nominal * 60) / perMinute)));
    }
    const seconds = Math.floor(frames / nominal),
      two = v => String(v).padStart(2, "0");
    const clock = [seconds / 3600, (seconds / 60) % 60, seconds % 60].map(v => two(Math.floor(v))).join(":");
    return `${clock}${drop ? ";" : ":"}${two(frames % nominal)}`;
  }
  seconds(sample) {
    const micros = Math.round((Math.abs(sample) / this.rate) * 1e6),
      whole = Math.floor(micros / 1e6),
      three = v => String(v).padStart(3, "0");
    return `${sample < 0 ? "−" : ""}${grouped(whole)}.${three(Math.floor(micros / 1000) % 1000)} ${three(micros % 1000)}`;
  }
  texts(sample) {
    return { timecode: this.timecode(sample), bars: this.bars(sample), seconds: this.seconds(sample) };
  }
}
