// Peaks and samples of media, fetched when first drawn, level by level; drawn when they arrive.
const STRETCH = 256,
  FACTOR = 4,
  ASK_AGAIN = 1500,
  MOST_ASKED = 2000;

export class Peaks {
  constructor(transfer, arrived) {
    this.transfer = transfer;
    this.arrived = arrived;
    this.levels = new Map();
    this.windows = new Map();
  }
  /** The finest level that has at least about one pair a pixel, and its pairs when they are here. */
  level(media, samplesPerPixel) {
    if (!media.sha) return null;
    let level = 0,
      stretch = STRETCH;
    while (stretch * FACTOR <= samplesPerPixel && media.length / (stretch * FACTOR) > 64) {
      stretch *= FACTOR;
      level++;
    }
    const key = `${media.sha}/${level}`;
    if (!this.levels.has(key)) {
      this.levels.set(key, null);
      this.fetchLevel(key, media, level);
    }
    const pairs = this.levels.get(key);
    return pairs ? { pairs, stretch } : null;
  }
  async fetchLevel(key, media, level) {
    const answer = await fetch(`/transfers/${this.transfer}/peaks/${media.sha}/${level}`);
    if (answer.status === 202) {
      // It is not measured yet, and drawn by itself when it is.
      this.asked = (this.asked ?? 0) + 1;
      if (this.asked < MOST_ASKED)
        setTimeout(() => {
          this.levels.delete(key);
          this.arrived();
        }, ASK_AGAIN);
      return;
    }
    if (!answer.ok) return;
    const pairs = new Int16Array(await answer.arrayBuffer());
    const got = Number(answer.headers.get("X-Level"));
    this.levels.set(key, pairs);
    if (got !== level) this.levels.set(`${media.sha}/${got}`, pairs);
    this.arrived();
  }
  /** Single samples for a window, in blocks of 32 768. */
  samples(media, from, count) {
    const block = 32768,
      first = Math.floor(Math.max(0, from) / block),
      key = `${media.sha}:${first}`;
    if (!media.sha) return null;
    if (!this.windows.has(key)) {
      this.windows.set(key, null);
      this.fetchSamples(key, media, first * block, block * 2);
    }
    const data = this.windows.get(key);
    return data && from + count <= (first + 2) * block ? { data, start: first * block } : data ? { data, start: first * block } : null;
  }
  async fetchSamples(key, media, from, count) {
    const answer = await fetch(`/transfers/${this.transfer}/samples/${media.sha}?from=${from}&count=${count}`);
    if (!answer.ok) return;
    if (this.windows.size > 60) this.windows.delete(this.windows.keys().next().value);
    this.windows.set(key, new Float32Array(await answer.arrayBuffer()));
    this.arrived();
  }
}
