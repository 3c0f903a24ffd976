// A tempo from taps: the straight line through the last sixteen, so that one tap early or late hardly counts.
export class Taps {
  constructor() {
    this.times = [];
  }
  clear() {
    this.times = [];
  }
  /** Gives { tempo, spread, count } from the third tap on; a pause of three seconds begins anew. */
  tap(milliseconds) {
    if (this.times.length && milliseconds - this.times.at(-1) > 3000) this.clear();
    this.times = [...this.times, milliseconds].slice(-16);
    const n = this.times.length;
    if (n < 3) return null;
    const middle = (n - 1) / 2,
      mean = this.times.reduce((a, b) => a + b) / n;
    let over = 0,
      under = 0;
    this.times.forEach((t, i) => {
      over += (i - middle) * (t - mean);
      under += (i - middle) ** 2;
    });
    const beat = over / under,
      off = Math.sqrt(this.times.reduce((sum, t, i) => sum + (t - mean - beat * (i - middle)) ** 2, 0) / Math.max(1, n - 2) / under);
    return { tempo: 60000 / beat, spread: ((60000 / beat) * off) / beat, count: n };
  }
}
