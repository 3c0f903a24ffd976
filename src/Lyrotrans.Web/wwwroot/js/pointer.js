// The pointer on the chart: selects, moves the view, and drags tempo points while the map is open.
import { position } from "./desk.js";
import { TOP } from "./chart.js";

export class Pointer {
  /** @param {(what: object|null) => void} select Told what was clicked. */
  constructor(canvas, chart, clock, map, select) {
    Object.assign(this, { canvas, chart, clock, map, select, drag: null });
    canvas.addEventListener("pointerdown", e => this.down(e));
    canvas.addEventListener("pointermove", e => this.move(e));
    canvas.addEventListener("pointerup", e => this.up(e));
    canvas.addEventListener("pointerleave", () => {
      if (!this.drag) position.hover(position.sample, clock);
    });
    canvas.addEventListener("wheel", e => this.wheel(e), { passive: false });
    document.querySelector(".heads").addEventListener("wheel", e => this.scroll(e.deltaY), { passive: true });
    document.getElementById("overview").addEventListener("pointerdown", e => this.jump(e.offsetX));
  }
  down(e) {
    this.canvas.setPointerCapture(e.pointerId);
    const tempo = this.chart.tempoPointAt(e.offsetX, e.offsetY);
    this.drag = { x: e.offsetX, y: e.offsetY, from: this.chart.from, scroll: this.chart.scroll, moved: false, tempo };
  }
  move(e) {
    const { chart, drag } = this;
    this.canvas.style.cursor = chart.tempoPointAt(e.offsetX, e.offsetY) >= 0 ? "move" : "";
    position.hover(Math.round(chart.sampleAt(e.offsetX)), this.clock);
    if (!drag) return;
    if (Math.abs(e.offsetX - drag.x) + Math.abs(e.offsetY - drag.y) > 4) drag.moved = true;
    if (drag.tempo >= 0 || !drag.moved) return;
    chart.from = drag.from - (e.offsetX - drag.x) * chart.perPixel;
    if (drag.y > TOP) chart.scroll = drag.scroll - (e.offsetY - drag.y);
    chart.draw();
  }
  up(e) {
    const { chart, drag } = this;
    if (drag?.moved && drag.tempo >= 0) this.dropTempo(e, drag);
    else if (drag && !drag.moved) {
      this.select(chart.hit(e.offsetX, e.offsetY));
      position.set(chart.sampleAt(e.offsetX));
    }
    this.drag = null;
  }
  /** A tempo point lands where it is let go: sideways to another beat, up and down to another tempo. */
  dropTempo(e, drag) {
    const sample = Math.abs(e.offsetX - drag.x) > 6 ? this.chart.sampleAt(e.offsetX) : null,
      tempo = Math.abs(e.offsetY - drag.y) > 3 ? this.chart.tempoAtY(e.offsetY) : null;
    this.map.drag(drag.tempo, sample, tempo);
  }
  wheel(e) {
    e.preventDefault();
    if (e.ctrlKey || e.altKey) this.chart.zoom(Math.pow(1.0015, e.deltaY), e.offsetX);
    else if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) this.chart.pan(e.deltaX || e.deltaY);
    else this.scroll(e.deltaY);
  }
  scroll(by) {
    this.chart.scroll += by;
    this.chart.draw();
  }
  jump(x) {
    const { canvas, chart } = this,
      { end } = chart.survey;
    chart.from = (x / canvas.clientWidth) * end * 1.04 - end * 0.02 - (canvas.clientWidth * chart.perPixel) / 2;
    chart.draw();
  }
}
