// Handover: what is offered, and to whom.
import { say } from "./words.js";

document.addEventListener("click", async e => {
  const from = e.target.dataset?.copy;
  if (!from) return;
  const field = document.querySelector(from);
  field.select();
  try {
    await navigator.clipboard.writeText(field.value);
    e.target.textContent = "copied";
  } catch {
    say("The browser does not let a page copy; it is marked, so copy it by hand.");
  }
});
