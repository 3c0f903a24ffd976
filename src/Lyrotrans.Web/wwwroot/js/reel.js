// The reference picture: stills along its lane, and the picture itself, which follows what is heard and the position that is set.
import { css, say } from "./words.js";
import { transfer } from "./desk.js";

const WIDE = 96,
  MOST = 400,
  AT_ONCE = 2;

export class Reel {
  constructor(chart, picture, rate) {
    Object.assign(this, { chart, picture, rate, stills: new Map(), waiting: [], asked: 0, plays: true });
    this.canvas = document.getElementById("reel");
    this.screen = document.getElementById("screen");
    this.film = this.screen.querySelector("video");
    this.still = this.screen.querySelector("img");
    this.film.addEventListener("error", () => this.screenOn && this.onlyStills());
    const seen = (_, frame) => {
      // At rest the frame that was asked for is seen; what is told of late is one from before.
      if (this.plays && !this.film.paused) this.caption(Math.floor(frame.mediaTime * picture.perSecond + 0.01));
      this.film.requestVideoFrameCallback(seen);
    };
    this.film.requestVideoFrameCallback?.(seen);
    // Sound without a picture to it is no picture.
    this.film.addEventListener("loadedmetadata", () => this.film.videoWidth || this.onlyStills());
    new ResizeObserver(() => this.paint()).observe(this.canvas);
  }
  /** The picture's frame at a session sample, within its own; counted from 0. */
  frameAt(sample) {
    const { start, perFrame, frames } = this.picture;
    return Math.min(frames - 1, Math.max(0, Math.floor((sample - start) / perFrame + 1e-6)));
  }
  /** Every how many frames a still stands, so that they lie side by side: of few values, so that those that are there stay. */
  step() {
    const least = ((WIDE + 2) * this.chart.perPixel) / this.picture.perFrame,
      half = Math.pow(2, Math.ceil(Math.log2(least)) - 2);
    return Math.max(1, [3 * half, 4 * half].find(n => n >= least && Number.isInteger(n)) ?? 1);
  }
  paint() {
    const { canvas, chart, picture } = this,
      ratio = window.devicePixelRatio || 1,
      [width, height] = [canvas.clientWidth, canvas.clientHeight];
    if (canvas.width !== width * ratio || canvas.height !== height * ratio) {
      canvas.width = width * ratio;
      canvas.height = height * ratio;
    }
    const g = canvas.getContext("2d");
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    g.fillStyle = css("--sheet");
    g.fillRect(0, 0, width, height);
    const step = this.step(),
      first = Math.max(0, Math.floor(this.frameAt(chart.from) / step) * step),
      end = chart.x(picture.start + picture.length);
    this.waiting = [];
    for (let frame = first; frame < picture.frames; frame += step) {
      const x = chart.x(picture.start + frame * picture.perFrame);
      if (x > width) break;
      this.paintStill(g, frame, x, Math.min(WIDE, step * (picture.perFrame / chart.perPixel) - 2, end - x), height);
    }
    this.edges(g, chart.x(picture.start), end, width, height);
    this.line(g, chart.x(chart.playing ?? chart.at), width, height);
    this.ask();
  }
  paintStill(g, frame, x, room, height) {
    const image = this.stills.get(frame);
    if (image === undefined) this.waiting.push(frame);
    if (!image || room < 6) return;
    const wide = (image.width / image.height) * (height - 6);
    g.save();
    g.beginPath();
    g.rect(x, 3, Math.min(wide, Math.max(room, WIDE)), height - 6);
    g.clip();
    g.drawImage(image, x, 3, wide, height - 6);
    g.restore();
  }
  /** Where it begins and ends, as a clip's brackets do. */
  edges(g, x0, x1, width, height) {
    g.strokeStyle = css("--ink");
    g.lineWidth = 1.3;
    for (const [x, side] of [
      [x0, 1],
      [x1, -1],
    ]) {
      if (x < -5 || x > width + 5) continue;
      g.beginPath();
      g.moveTo(x + 5 * side, 1.5);
      g.lineTo(x, 1.5);
      g.lineTo(x, height - 1.5);
      g.lineTo(x + 5 * side, height - 1.5);
      g.stroke();
    }
  }
  line(g, x, width, height) {
    if (x < 0 || x > width) return;
    g.fillStyle = css("--flag");
    g.fillRect(Math.round(x), 0, 1, height);
  }
  ask() {
    while (this.asked < AT_ONCE && this.waiting.length) this.fetch(this.waiting.shift());
  }
  async fetch(frame) {
    if (this.stills.size >= MOST) this.stills.delete(this.stills.keys().next().value);
    this.stills.set(frame, null);
    this.asked++;
    const image = new Image();
    image.src = this.addressOf(frame);
    try {
      await image.decode();
      this.stills.set(frame, image);
      this.canvas.dataset.stills = [...this.stills.values()].filter(Boolean).length;
    } catch {
      // What cannot be decoded stays empty; the lane goes on.
    }
    this.asked--;
    this.paint();
  }
  addressOf(frame) {
    return `/transfers/${transfer}/picture/${this.picture.sha}/still?frame=${frame}`;
  }
  get screenOn() {
    return !this.screen.hidden;
  }
  toggle() {
    this.screen.hidden = this.screenOn;
    if (this.screenOn) {
      if (this.plays && !this.film.getAttribute("src")) this.film.src = `/transfers/${transfer}/picture/file`;
      this.at(this.chart.at);
    } else this.film.pause();
    return this.screenOn;
  }
  onlyStills() {
    if (!this.plays) return;
    this.plays = false;
    this.film.hidden = true;
    this.still.hidden = false;
    this.screen.querySelector("figcaption em").textContent = "This browser does not play it; stills follow.";
    say("This browser does not play the picture; stills follow it.");
    this.at(this.chart.at);
  }
  /** Shows the frame at a place that was set. */
  at(sample) {
    if (!this.screenOn) return;
    const frame = this.frameAt(sample);
    this.caption(frame);
    if (!this.plays) this.showStill(frame);
    else {
      this.film.pause();
      this.film.currentTime = (frame + 0.5) / this.picture.perSecond;
    }
  }
  /** Follows what is heard, and ends with it. */
  heard(sample) {
    if (!this.screenOn) return;
    if (sample === null) return this.at(this.chart.at);
    const frame = this.frameAt(sample),
      within = sample >= this.picture.start && sample < this.picture.start + this.picture.length;
    if (!this.plays) this.caption(frame);
    if (!this.plays) return this.showStill(Math.floor(frame / 12) * 12);
    const due = (sample - this.picture.start) / this.rate;
    if (!within) this.film.pause();
    else if (this.film.paused) this.film.play().catch(() => {});
    // Half of a frame is seen; more is set right.
    if (within && Math.abs(this.film.currentTime - due) > 1.5 / this.picture.perSecond) this.film.currentTime = due;
    this.screen.dataset.apart = Math.abs(this.film.currentTime - due).toFixed(3);
  }
  /** Which frame is seen. */
  caption(frame) {
    this.screen.querySelector("figcaption span").textContent = `frame ${frame}`;
    this.screen.dataset.frame = frame;
  }
  showStill(frame) {
    const address = this.addressOf(frame);
    if (this.still.getAttribute("src") !== address && (this.still.complete || !this.still.getAttribute("src"))) this.still.src = address;
  }
}
