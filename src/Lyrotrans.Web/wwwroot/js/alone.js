// One thing of the session taken alone: made and proved on the server, and kept by the browser.
import { transfer } from "./desk.js";
import { bytes, el, say } from "./words.js";

const FORMS = {
  raw: ["r", "raw sound", "as it was recorded: no gain, fades or effects"],
  printed: ["p", "print", "as a package would print it"],
  notes: ["n", "notes", "as a MIDI file that begins on a bar"],
  bundle: ["b", "bundle", "notes, print, settings and sheet in one zip"],
};
/** The forms that a thing on a track can have. */
function formsOf(track) {
  if (track.kind === "notes") return ["notes", "printed", "bundle"];
  if (track.kind === "bus" || track.kind === "return") return ["printed", "bundle"];
  return track.kind === "master" || track.kind === "picture" ? [] : ["raw", "printed", "bundle"];
}

/** The panel of what is selected; null where nothing of it can go alone. Its letters are keys while it has the focus. */
export function aloneForm(track, { clip, part, range }, words) {
  // A take beneath is a row of its own track: only its clips can be meant.
  const forms = track.spare && !clip ? [] : formsOf(track);
  if (!forms.length) return null;
  const told = el("p", { class: "soft", role: "status" }, words);
  const buttons = forms.map(form => {
    const [key, name, title] = FORMS[form];
    const button = el("button", { type: "button", "data-form": form, title: `${title} (${key})` }, name);
    button.addEventListener("click", () => fetchOne({ track: track.id, clip, part, ...range, as: form }, buttons, told));
    return button;
  });
  const pressed = el("div", { class: "forms" }, ...buttons),
    panel = el("div", { class: "aside alone", id: "alone" }, el("h3", {}, "Take alone"), pressed, told);
  panel.addEventListener("keydown", e => {
    const button = buttons.find(b => FORMS[b.dataset.form][0] === e.key);
    if (!button || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    e.stopPropagation();
    button.click();
  });
  return panel;
}

async function fetchOne(asked, buttons, told) {
  const query = new URLSearchParams(Object.entries(asked).filter(([, value]) => value !== undefined && value !== null));
  const before = told.textContent;
  for (const button of buttons) button.disabled = true;
  told.textContent = "Making it and proving it …";
  try {
    const to = document.body.dataset.query;
    const answer = await fetch(`/transfers/${transfer}/one${to}${to ? "&" : "?"}${query}`);
    if (!answer.ok) {
      told.textContent = before;
      say(answer.status === 404 ? "This is not there any more. Load the page again." : await answer.text());
      return;
    }
    const file = await answer.blob(),
      name = nameOf(answer.headers.get("content-disposition"));
    const link = el("a", { href: URL.createObjectURL(file), download: name });
    link.click();
    URL.revokeObjectURL(link.href);
    told.textContent = `${name}, ${bytes(file.size)}: proved`;
  } catch {
    told.textContent = before;
    say("The server does not answer, so nothing was made. Try again.");
  } finally {
    for (const button of buttons) button.disabled = false;
    buttons[0].focus();
  }
}

// The name in full letters, where it has others than those of old headers.
function nameOf(header) {
  const full = header?.match(/filename\*=UTF-8''([^;]+)/)?.[1];
  return full ? decodeURIComponent(full) : (header?.match(/filename="?([^";]+)"?/)?.[1] ?? "one thing");
}
