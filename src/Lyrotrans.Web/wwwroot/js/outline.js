// Pictures of sounds: fetched when they come into view, drawn as silhouettes; a line shows where one is heard.
import { svg } from "./words.js";

const HEIGHT = 46;
function draw(node, values) {
  const columns = values.length / 2,
    step = 480 / columns,
    middle = HEIGHT / 2,
    y = (value, sign) => (middle + (sign * value * (middle - 1)) / 255).toFixed(1);
  let path = `M0 ${middle}`;
  for (let i = 0; i < columns; i++) path += `L${(i * step).toFixed(2)} ${y(values[2 * i + 1], -1)}`;
  path += `L480 ${middle}`;
  for (let i = columns - 1; i >= 0; i--) path += `L${(i * step).toFixed(2)} ${y(values[2 * i], 1)}`;
  node.prepend(svg("path", { d: `${path}Z` }), svg("path", { d: `M0 ${middle - 0.4}H480V${middle + 0.4}H0Z` }));
  node.dataset.drawn = "yes";
}

export const outlined = {
  /** Draws each of some places when it comes into view; two at a time. */
  watch(places, address) {
    const waiting = [];
    let busy = 0;
    const next = async () => {
      const place = waiting.shift();
      if (!place || busy >= 2) {
        if (place) waiting.unshift(place);
        return;
      }
      busy++;
      await this.show(place.querySelector("svg"), address(place));
      busy--;
      next();
    };
    const seen = new IntersectionObserver(entries => {
      for (const entry of entries.filter(e => e.isIntersecting)) {
        seen.unobserve(entry.target);
        waiting.push(entry.target);
        next();
      }
    });
    // What the page says comes first: its pictures are made of the sound itself.
    const watch = () => places.forEach(place => seen.observe(place));
    if (document.readyState === "complete") watch();
    else window.addEventListener("load", watch, { once: true });
  },
  /** Draws one, where it comes; without its picture a sound can be heard all the same. */
  async show(node, address) {
    node.dataset.asked = address;
    try {
      const answer = await fetch(address);
      if (answer.ok && node.dataset.asked === address) draw(node, new Uint8Array(await answer.arrayBuffer()));
    } catch {
      /* it comes when it is looked at again */
    }
  },
  /** Shows where a sound is heard, as a share of it; nowhere for null. */
  mark(node, share) {
    let line = node.querySelector(".played");
    if (share === null) return line?.remove();
    if (!line) node.append((line = svg("line", { class: "played", y1: 0, y2: HEIGHT })));
    line.setAttribute("x1", Math.min(1, share) * 480);
    line.setAttribute("x2", Math.min(1, share) * 480);
  },
};
