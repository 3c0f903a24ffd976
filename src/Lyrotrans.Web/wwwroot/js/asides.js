// What can be done about what is selected: a note to a track or a clip, a marker's name and place.
import { send } from "./deed.js";
import { el, grouped } from "./words.js";

const field = (name, label, value, more = {}) => el("label", {}, label, el("input", { name, value, autocomplete: "off", ...more }));
const fields = form => Object.fromEntries(new FormData(form));
function formOf(handler, more, ...inside) {
  const form = el("form", { class: "aside" }, ...inside);
  form.addEventListener("submit", e => {
    e.preventDefault();
    send(handler, { ...more, ...fields(form) });
  });
  return form;
}

/** What somebody says of a track or of one of its clips, to whoever works on. */
export function noteForm(track, clip, note) {
  const words = el(
    "textarea",
    { id: "note-text", name: "text", rows: "1", maxlength: "500", placeholder: "placeholder, to be played again" },
    note,
  );
  const form = formOf(
    "Note",
    { track, clip },
    el("label", { for: "note-text" }, clip ? "note to this clip" : "note to this track"),
    el("button", {}, "keep note"),
    words,
  );
  form.classList.add("noting");
  return form;
}

/** A marker's name, place and length; one without an id is set. */
export function markerForm(marker) {
  const places = ["samples", "timecode", "bars", "seconds"].map(kind => el("option", {}, kind));
  const form = formOf(
    "Marker",
    { marker: marker.id ?? "" },
    field("text", "name", marker.text, { maxlength: "200", required: "" }),
    el(
      "label",
      {},
      "at",
      el("input", { name: "place", class: "n", value: grouped(marker.at), autocomplete: "off" }),
      el("select", { name: "kind", "aria-label": "Place in" }, ...places),
    ),
    field("length", "length, samples", marker.length ? grouped(marker.length) : "", { class: "n", placeholder: "a point" }),
    el("button", { class: "main" }, marker.id ? "change" : "set marker"),
  );
  if (marker.id) {
    const away = el("button", { type: "button", class: "plain" }, "take away");
    away.addEventListener("click", () => send("Unmark", { marker: marker.id }));
    form.append(away);
  }
  return form;
}
