/** Numbers for people: groups of three by thin spaces, a true minus, a unit where one is given. */
export function grouped(value) {
  const whole = String(Math.abs(Math.round(value))).replace(/\B(?=(\d{3})+$)/g, "\u202f");
  return (value < 0 ? "−" : "") + whole;
}
export function decibels(value, digits = 2) {
  return `${value < 0 ? "−" : ""}${Math.abs(value).toFixed(digits)} dB`;
}
export function bytes(value) {
  return value < 1e6 ? `${(value / 1e3).toFixed(1)} kB` : value < 1e9 ? `${(value / 1e6).toFixed(1)} MB` : `${(value / 1e9).toFixed(2)} GB`;
}
/** A time that something takes, as exact as one wants to know it. */
export function lasting(seconds) {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 100) return `${minutes} min`;
  if (minutes < 48 * 60) return `${Math.floor(minutes / 60)} h${minutes % 60 ? ` ${minutes % 60} min` : ""}`;
  return `${Math.round(minutes / 1440)} days`;
}
export function el(name, attributes = {}, ...children) {
  const node = document.createElement(name);
  for (const [key, value] of Object.entries(attributes))
    if (value !== null && value !== false) node.setAttribute(key, value === true ? "" : value);
  node.append(...children);
  return node;
}
export function svg(name, attributes = {}, text = null) {
  const node = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, value);
  if (text !== null) node.textContent = text;
  return node;
}
export function css(name) {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}
export function say(text) {
  const notice = document.getElementById("notice");
  if (!notice) return;
  notice.textContent = text;
  notice.hidden = !text;
  clearTimeout(say.timer);
  if (text)
    say.timer = setTimeout(() => {
      notice.hidden = true;
    }, 12000);
}
export function token() {
  return document.querySelector("meta[name=request-token]").content;
}
