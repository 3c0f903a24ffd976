// The tempo map sheet: rows typed, added, tapped or dragged on the chart; what a draft would move is asked of the server before it is
// applied, and the chart shows the draft beside what is in force.
import { position } from "./desk.js";
import { Clock } from "./clock.js";
import { el, grouped, token } from "./words.js";
import { Taps } from "./taps.js";

export class MapSheet {
  constructor(survey, chart) {
    Object.assign(this, { survey, chart, rows: survey.map.map(r => ({ ...r })), current: -1, asked: 0, taps: new Taps() });
    this.box = document.getElementById("map");
    this.bar1 = document.getElementById("bar1");
    this.bar1.value = grouped(survey.bar1);
    this.bar1.addEventListener("change", () => this.changed());
    document.getElementById("open-map").addEventListener("click", () => this.toggle());
    document.getElementById("close-map").addEventListener("click", () => this.toggle(false));
    document.getElementById("apply-map").addEventListener("click", () => this.apply());
    document.getElementById("tap").addEventListener("pointerdown", e => {
      e.preventDefault();
      this.tap();
    });
    document.getElementById("tap").addEventListener("keydown", e => {
      if (e.key === "Enter" || e.key === " ") {
        e.preventDefault();
        this.tap();
      }
    });
    for (const button of this.box.querySelectorAll("[data-add]")) button.addEventListener("click", () => this.add(button.dataset.add));
    this.show();
  }
  get open() {
    return !this.box.hidden;
  }
  toggle(open = !this.open) {
    this.box.hidden = !open;
    document.getElementById("open-map").setAttribute("aria-expanded", String(open));
    document.getElementById("selected").hidden = open;
    this.chart.editing = open;
    this.chart.draft = open ? this.draft : null;
    this.chart.draw();
    if (open) this.box.querySelector("input").focus();
    else document.getElementById("open-map").focus();
  }
  show() {
    const body = document.getElementById("map-rows");
    body.replaceChildren(
      ...this.rows.map((row, i) => {
        const at = el("input", { class: "n", value: row.at, "aria-label": `Place of the ${row.kind} ${row.value}` }),
          value = el("input", { class: "n", value: row.value, "aria-label": `The ${row.kind} at ${row.at}` });
        const ramp =
            row.kind === "tempo"
              ? el("input", { type: "checkbox", "aria-label": `Ramp from ${row.at} to the next tempo`, checked: row.ramp })
              : "",
          remove = el("button", { type: "button", "aria-label": `Delete the ${row.kind} at ${row.at}` }, "×");
        const line = el(
          "tr",
          { class: i === this.current ? "on" : "" },
          el("td", {}, at),
          el("td", {}, row.kind),
          el("td", {}, value),
          el("td", {}, ramp),
          el("td", {}, remove),
        );
        at.addEventListener("change", () => {
          row.at = at.value.trim();
          this.placed(row);
        });
        value.addEventListener("change", () => {
          row.value = value.value.trim();
          this.changed();
        });
        if (ramp)
          ramp.addEventListener("change", () => {
            row.ramp = ramp.checked;
            this.changed();
          });
        remove.addEventListener("click", () => {
          this.rows.splice(i, 1);
          this.current = -1;
          this.show();
          this.changed();
        });
        line.addEventListener("focusin", () => this.mark(i));
        return line;
      }),
    );
  }
  mark(i) {
    this.current = i;
    [...document.querySelectorAll("#map-rows tr")].forEach((line, k) => line.classList.toggle("on", k === i));
  }
  add(kind) {
    const place = document.querySelector("#position input[name=bars]").value,
      at = kind === "meter" ? `${place.split(".")[0]}.1.0` : place;
    const before = this.rows.filter(r => r.kind === kind).at(-1);
    this.rows.push({
      kind,
      at,
      value:
        kind === "tempo"
          ? String(Math.round(this.tempoAt(position.sample) * 1000) / 1000)
          : (before?.value ?? (kind === "meter" ? "4/4" : "C")),
      ramp: false,
    });
    this.sort();
    this.current = this.rows.findIndex(r => r.kind === kind && r.at === at);
    this.show();
    this.changed();
    document.querySelectorAll("#map-rows tr")[this.current]?.querySelectorAll("input")[1]?.select();
  }
  /** After a row went to another place: in order again, and still in hand. */
  placed(row) {
    this.sort();
    this.current = this.rows.indexOf(row);
    this.show();
    this.changed();
    document.querySelectorAll("#map-rows tr")[this.current].querySelectorAll("input")[1].focus();
  }
  sort() {
    const key = r => r.at.split(/[.|]/).map(Number);
    this.rows.sort((a, b) => {
      const x = key(a),
        y = key(b);
      return x[0] - y[0] || (x[1] ?? 1) - (y[1] ?? 1) || (x[2] ?? 0) - (y[2] ?? 0);
    });
  }
  tempoAt(sample) {
    const tempo = (this.draft ?? this.survey).tempo;
    let i = 0;
    while (i + 1 < tempo.length && tempo[i + 1].at <= sample) i++;
    const p = tempo[i],
      n = tempo[i + 1],
      clock = this.clock();
    return p.ramp && n && sample > p.at
      ? p.tempo + ((n.tempo - p.tempo) * (clock.quarterAt(sample) - p.quarter)) / (n.quarter - p.quarter)
      : p.tempo;
  }
  clock() {
    return new Clock({ ...this.survey, ...(this.draft ?? {}) });
  }
  tap() {
    const tapped = this.taps.tap(performance.now()),
      line = document.getElementById("tapped");
    if (!tapped) {
      line.textContent = "go on tapping";
      return;
    }
    const use = el("button", { type: "button", class: "plain" }, "use it");
    use.addEventListener("click", () => this.useTapped(tapped.tempo));
    line.replaceChildren(
      el("b", { class: "n" }, tapped.tempo.toFixed(2)),
      ` ± ${tapped.spread.toFixed(2)} over ${tapped.count} taps `,
      use,
    );
  }
  // The tempo row in hand, else the one in force at the position.
  useTapped(tempo) {
    const tempos = this.rows.filter(r => r.kind === "tempo"),
      inHand = this.rows[this.current];
    const force = (this.draft ?? this.survey).tempo.filter(p => p.at <= position.sample).length - 1;
    const row = inHand?.kind === "tempo" ? inHand : tempos[Math.max(0, force)];
    row.value = tempo.toFixed(2);
    this.taps.clear();
    document.getElementById("tapped").textContent = `${row.value} from ${row.at} on`;
    this.show();
    this.changed();
  }
  /** A tempo point of the chart, dragged: to the beat under the pointer, and to whole quarters a minute. */
  drag(index, sample, tempo) {
    const row = this.rows.filter(r => r.kind === "tempo")[index],
      draft = this.draft ?? this.survey;
    const clock = this.clock(),
      meter = draft.meters.filter(m => m.quarter <= draft.tempo[index].quarter + 1e-9).at(-1) ?? draft.meters[0],
      unit = 4 / meter.unit;
    if (sample !== null) row.at = clock.barsOf(Math.round(clock.quarterAt(sample) / unit) * unit);
    if (tempo !== null) row.value = String(Math.max(1, Math.min(1000, Math.round(tempo))));
    this.sort();
    this.current = this.rows.indexOf(row);
    this.show();
    this.changed();
  }
  body() {
    const stay = kind => document.querySelector(`input[name=stay-${kind}]:checked`).value;
    return JSON.stringify({
      from: Number(document.body.dataset.revision),
      bar1: this.bar1.value.trim(),
      rows: this.rows,
      audio: stay("audio"),
      notes: stay("notes"),
      markers: stay("markers"),
    });
  }
  post(handler) {
    return fetch(`?handler=${handler}`, {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-Request-Token": token() },
      body: this.body(),
    });
  }
  async changed() {
    const number = ++this.asked;
    this.box.setAttribute("aria-busy", "true");
    const answer = await this.post("MapPreview"),
      said = answer.ok ? await answer.json() : await answer.text();
    if (number !== this.asked) return;
    this.heard(answer.ok, said);
    this.box.setAttribute("aria-busy", "false");
  }
  heard(ok, said) {
    const problem = document.getElementById("map-problem"),
      apply = document.getElementById("apply-map"),
      state = document.getElementById("map-state");
    if (!ok) {
      problem.textContent = said;
      problem.hidden = false;
      apply.disabled = true;
      state.textContent = "";
      return;
    }
    problem.hidden = true;
    this.draft = said;
    this.chart.draft = this.draft.same ? null : this.draft;
    this.chart.draw();
    apply.disabled = this.draft.same;
    state.textContent = this.draft.same ? "nothing changed" : "drawn, not applied yet";
    const say = (kind, which, count, farthest, thing, more = "") => {
      const far = Math.abs(farthest),
        most = `${grouped(far)} ${far === 1 ? "sample" : "samples"} ${farthest < 0 ? "earlier" : "later"}`,
        moves = `${grouped(count)} ${thing}${count === 1 ? " moves" : "s move"}, at most ${most}${more}`;
      document.getElementById(`${kind}-${which}`).textContent = count ? moves : "nothing moves in time";
    };
    for (const which of ["samples", "quarters"]) {
      const e = this.draft[which];
      say("audio", which, e.clips, e.largestClip, "clip", e.pushed ? `; ${grouped(e.pushed)} wait for the one ahead` : "");
      say("notes", which, e.notes, e.largestNote, "note");
      say("markers", which, e.markers, e.largestMarker, "marker");
    }
  }
  async apply() {
    const answer = await this.post("Map"),
      problem = document.getElementById("map-problem");
    if (answer.ok) {
      location.reload();
      return;
    }
    problem.textContent = await answer.text();
    problem.hidden = false;
  }
}
