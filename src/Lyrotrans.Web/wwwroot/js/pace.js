/** How fast something goes, by what was done in the last seconds: so that a time to go is said only when it is known. */
export class Pace {
  static window = 10000;
  static least = 2000;
  #marks = [];

  /** Notes how much is done in all at a time in milliseconds. */
  note(done, now) {
    this.#marks.push([now, done]);
    while (this.#marks.length > 2 && now - this.#marks[1][0] >= Pace.window) this.#marks.shift();
  }

  /** Seconds until the rest is done; null while too little is known, or nothing has moved. */
  secondsTo(total) {
    const [first, last] = [this.#marks[0], this.#marks.at(-1)];
    if (!first || last[0] - first[0] < Pace.least || last[1] <= first[1]) return null;
    return ((total - last[1]) * (last[0] - first[0])) / (last[1] - first[1]) / 1000;
  }
}
