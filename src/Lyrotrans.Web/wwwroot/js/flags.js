// One kind of flag in the list: what it is and would cost, all that has it, and what can be done about it.
import { send } from "./deed.js";
import { el } from "./words.js";

/** The row of a group, and those of its objects. */
export function flagRow(group, go, hear) {
  const objects = group.objects.map(flag => objectRow(flag, group, go, hear));
  const mark = group.open ? el("i", { class: "pennant" }) : el("small", { class: "soft" }, group.accepted ? "accepted " : "noted ");
  const row = el(
    "li",
    { class: group.open ? "open" : "answered", "data-flag": group.code },
    el(
      "details",
      { name: "flags" },
      el("summary", {}, mark, el("small", { class: "n" }, group.objects[0].number), " ", group.title, el("span", {}, group.costs)),
      el("ol", { class: "objects" }, ...objects),
      ...(group.note ? [el("p", { class: "note" }, `To the receiver: ${group.note}`)] : []),
      deeds(group),
    ),
  );
  return { group: row, objects };
}

function objectRow(flag, group, go, hear) {
  const name = group.objects.length === 1 ? flag.detail : flag.title;
  const row = el("li", {}, el("button", { type: "button" }, name, ...(group.objects.length === 1 ? [] : [el("span", {}, flag.detail)])));
  row.firstChild.addEventListener("click", () => go(flag));
  if (flag.isNew && !group.open) row.classList.add("new");
  if (flag.track !== null && flag.at !== undefined && flag.at !== null) {
    const listen = el("button", { type: "button", class: "hear", "aria-label": `Listen to ${flag.title}` }, "listen");
    listen.addEventListener("click", () => hear(flag));
    row.append(listen);
  }
  return row;
}

function deeds(group) {
  const note = el("input", {
      name: "note",
      maxlength: "500",
      "aria-label": `Note to the receiver: ${group.title}`,
      placeholder: "a sentence for the receiver",
      value: group.note,
    }),
    deed = (words, handler, fields, kind) => {
      const button = el("button", { type: "button", class: kind }, words);
      button.addEventListener("click", () => send(handler, { flag: group.code, ...fields() }));
      return button;
    };
  const choices = [];
  if (group.mend && group.open) choices.push(deed(group.mend, "Mend", () => ({}), "main"));
  if (group.open) choices.push(deed("accept", "Answer", () => ({ accepted: true, note: note.value }), null));
  else choices.push(deed("open again", "Answer", () => ({ accepted: false, note: "" }), "plain"));
  return el(
    "div",
    { class: "deeds" },
    ...choices,
    el(
      "span",
      { class: "noting" },
      note,
      deed("note", "Answer", () => ({ accepted: group.accepted, note: note.value }), null),
    ),
  );
}
