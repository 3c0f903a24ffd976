// The position line: one instant in samples, timecode, bar.beat.tick and seconds. While the pointer moves it is computed here;
// what is typed is converted by the server, exactly, and what it answers is what stands there.
import { grouped } from "./words.js";

export class Position {
  constructor(transfer, line) {
    this.transfer = transfer;
    this.inputs = Object.fromEntries([...line.querySelectorAll("input")].map(i => [i.name, i]));
    this.listeners = [];
    // The newest question; and the field that is being typed into, which no answer writes over.
    this.asked = 0;
    this.typing = null;
    this.sample = Number(sessionStorage.getItem(`position ${transfer}`) ?? 0);
    for (const [kind, input] of Object.entries(this.inputs)) {
      input.addEventListener("keydown", e => {
        if (e.key === "Enter") this.typed(kind, input.value);
      });
      input.addEventListener("input", () => (this.typing = kind));
      input.addEventListener("change", () => this.typed(kind, input.value));
      input.addEventListener("focus", () => input.select());
    }
    this.typed("samples", String(this.sample), true);
  }
  focus() {
    this.inputs.samples.focus();
  }
  /** Called with the sample whenever the position is set (not while it hovers). */
  onSet(listener) {
    this.listeners.push(listener);
  }
  async typed(kind, text, quiet = false) {
    const mine = ++this.asked;
    if (this.typing === kind) this.typing = null;
    const answer = await fetch(`/transfers/${this.transfer}/position?kind=${kind}&text=${encodeURIComponent(text)}`);
    // What was asked since counts; an answer that comes late is one from before.
    if (mine !== this.asked) return;
    for (const input of Object.values(this.inputs)) input.classList.remove("wrong");
    if (!answer.ok) {
      this.inputs[kind].classList.add("wrong");
      return;
    }
    const place = await answer.json();
    if (mine !== this.asked) return;
    this.keep(place.sample);
    this.write(place);
    if (!quiet) for (const listener of this.listeners) listener(place.sample);
  }
  set(sample) {
    this.typed("samples", String(Math.round(sample)));
  }
  keep(sample) {
    this.sample = sample;
    sessionStorage.setItem(`position ${this.transfer}`, sample);
  }
  write(place) {
    for (const kind of ["samples", "timecode", "bars", "seconds"]) if (this.typing !== kind) this.inputs[kind].value = place[kind];
  }
  /** Shows an instant under the pointer without setting it. */
  hover(sample, clock) {
    if (document.activeElement && Object.values(this.inputs).includes(document.activeElement)) return;
    this.write({ sample: null, samples: grouped(sample), ...clock.texts(sample) });
  }
}
