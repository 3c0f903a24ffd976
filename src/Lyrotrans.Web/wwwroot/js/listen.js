// Listening: one sound at a time, streamed from the engine; tells where it is while it plays.
import { say } from "./words.js";

export class Listen {
  /** @param {(seconds: number|null) => void} tell Called with the seconds since the start while it plays, and with null when it ends. */
  constructor(tell = () => {}) {
    this.sound = new Audio();
    this.sound.preload = "auto";
    this.tell = tell;
    this.address = null;
    this.sound.addEventListener("ended", () => this.stop());
    this.sound.addEventListener("error", () => {
      if (this.address) {
        say("This cannot be listened to; its sound may be missing.");
        this.stop();
      }
    });
    this.sound.addEventListener("playing", () => {
      this.firstSound = performance.now() - this.asked;
      document.body.dataset.listening = "yes";
      this.step();
    });
  }
  get on() {
    return this.address !== null;
  }
  /** Plays an address, or stops it where it plays already. */
  toggle(address) {
    if (this.address === address) this.stop();
    else this.play(address);
  }
  play(address) {
    this.address = address;
    this.asked = performance.now();
    this.sound.src = address;
    this.sound.play().catch(problem => {
      if (problem.name !== "AbortError") {
        say("The browser did not begin to play.");
        this.stop();
      }
    });
  }
  stop() {
    this.address = null;
    this.sound.pause();
    this.sound.removeAttribute("src");
    this.sound.load();
    delete document.body.dataset.listening;
    this.tell(null);
  }
  step() {
    if (!this.on) return;
    this.tell(this.sound.currentTime);
    requestAnimationFrame(() => this.step());
  }
}
