/**
 * Whoever asks for less motion gets none: the styles see to what styles move, this to what scripts move. Dialogs and notes of
 * the library come and go by the browser's own animations, which no style sheet stops.
 */
const animate = Element.prototype.animate;

Element.prototype.animate = function (frames, options) {
  if (!matchMedia('(prefers-reduced-motion: reduce)').matches) return animate.call(this, frames, options);
  const still = typeof options === 'object' ? { ...options, duration: 0, delay: 0 } : 0;
  return animate.call(this, frames, still);
};
