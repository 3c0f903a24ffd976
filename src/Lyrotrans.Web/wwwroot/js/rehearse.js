// Reading a package back: one track at a time, as it was sent, as it would be read, or what is left between.
import { Listen } from "./listen.js";

const LEAD_SAMPLES = 24000;
const listen = new Listen(seconds => {
  if (seconds === null) for (const b of document.querySelectorAll("[data-hear]")) b.setAttribute("aria-pressed", "false");
});

document.addEventListener("click", e => {
  const button = e.target.closest?.("[data-hear]");
  if (!button) return;
  const row = button.closest("[data-track]"),
    from = Math.max(0, Number(row.dataset.at) - LEAD_SAMPLES),
    query = new URLSearchParams({ track: row.dataset.track, what: button.dataset.hear, from });
  const address = `/builds/${document.getElementById("limits").elements.build.value}/rehearsal/listen?${query}`,
    plays = listen.address === address;
  listen.stop();
  if (plays) return;
  listen.play(address);
  button.setAttribute("aria-pressed", "true");
});
