// The frame: keys, the position line, revisions, errors of htmx, night chart.
import { say, token } from "./words.js";
import { Position } from "./position.js";

export const transfer = document.body.dataset.transfer;
export const position = transfer ? new Position(transfer, document.getElementById("position")) : null;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("desk", () => ({
    revisions: false,
    keys: false,
    toggleRevisions() {
      this.revisions = !this.revisions;
      this.keys = false;
    },
    toggleKeys() {
      this.keys = !this.keys;
      this.revisions = false;
    },
    closeAll() {
      this.revisions = false;
      this.keys = false;
    },
    init() {
      document.addEventListener("desk:revisions", () => this.toggleRevisions());
      document.addEventListener("desk:keys", () => this.toggleKeys());
      document.addEventListener("desk:close", () => this.closeAll());
    },
  }));
});

/** What asks again by itself says nothing of one answer that did not come, and does not keep anyone signed in. */
const asksAgain = e => e.detail.elt.matches?.("[hx-trigger*=every]");
document.addEventListener("htmx:configRequest", e => {
  e.detail.headers["X-Request-Token"] = token();
  if (asksAgain(e)) e.detail.headers["X-Asks-Itself"] = "yes";
});
for (const failure of ["htmx:responseError", "htmx:sendError"])
  document.addEventListener(
    failure,
    e => {
      if (asksAgain(e)) e.stopImmediatePropagation();
    },
    true,
  );
document.addEventListener("htmx:responseError", e => {
  say(e.detail.xhr.responseText.length < 600 ? e.detail.xhr.responseText : "That did not work; load the page again.");
  if (e.detail.xhr.status === 409) setTimeout(() => location.reload(), 4000);
});
document.addEventListener("htmx:sendError", () => say("The server does not answer. What you did last was not saved; try again."));

for (const button of document.querySelectorAll("[data-night-switch]"))
  button.addEventListener("click", () => {
    const night = !document.documentElement.hasAttribute("data-night");
    document.documentElement.toggleAttribute("data-night", night);
    localStorage.setItem("chart", night ? "night" : "day");
  });

/** Plain keys for a screen: { key: action }. Typing into a field is never taken for a key. */
export function keys(actions) {
  document.addEventListener("keydown", e => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const typing = e.target.closest("input, select, textarea");
    if (typing) {
      if (e.key === "Escape") typing.blur();
      return;
    }
    const name = (e.shiftKey && e.key.startsWith("Arrow") ? "Shift " : "") + e.key;
    const action = actions[name];
    if (!action || (e.target.closest("button, a") && (e.key === "Enter" || e.key === " "))) return;
    e.preventDefault();
    action(e);
  });
}

if (transfer) {
  const actions = {
    "?": () => document.dispatchEvent(new Event("desk:keys")),
    v: () => document.dispatchEvent(new Event("desk:revisions")),
    Escape: () => document.dispatchEvent(new Event("desk:close")),
    u: () => document.getElementById("undo").click(),
    r: () => document.getElementById("redo").click(),
    g: () => position.focus(),
  };
  document.querySelectorAll("#stages a").forEach((_, i) => {
    // Looked up when it is pressed: work that ends brings new stages.
    actions[i + 1] = () => document.querySelectorAll("#stages a")[i].click();
  });
  keys(actions);
}
