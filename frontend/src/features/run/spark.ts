/** A line through numbers in a small box, its holes left open; empty where there is nothing to draw. */
export function spark(values: (number | null)[], width: number, height: number): string {
  const known = values.filter((v) => v !== null);
  if (known.length < 2) return '';
  const low = Math.min(...known);
  const span = Math.max(...known) - low || 1;
  const place = (v: number, k: number): string =>
    `${((k / (values.length - 1)) * width).toFixed(1)} ${(height - 2 - ((v - low) / span) * (height - 4)).toFixed(1)}`;
  return values.map((v, k) => (v === null ? '' : `${k && values[k - 1] !== null ? 'L' : 'M'}${place(v, k)}`)).join('');
}
