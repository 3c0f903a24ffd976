// Fade shapes by their maths, as the session model has them; x from 0 (silent) to 1 (full).
const SPAN = Math.log(1000);
export const SHAPES = {
  Linear: x => x,
  EqualPower: x => Math.sin((x * Math.PI) / 2),
  S: x => 0.5 - 0.5 * Math.cos(x * Math.PI),
  Exponential: x => (Math.exp(SPAN * x) - 1) / (Math.exp(SPAN) - 1),
  Logarithmic: x => 1 - (Math.exp(SPAN * (1 - x)) - 1) / (Math.exp(SPAN) - 1),
  Sampled: x => x,
};
export const SHAPE_WORDS = {
  Linear: "linear",
  EqualPower: "equal power",
  S: "S",
  Exponential: "exponential",
  Logarithmic: "logarithmic",
  Sampled: "sampled",
};
