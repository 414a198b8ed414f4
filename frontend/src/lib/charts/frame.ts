/** What the charts share: what their frame is told, in pixels and words. */

/** What the two axes of a drawing are told: its size [px], the box within it, the ticks, and the units. */
export type AxesProps = {
  width: number;
  height: number;
  box: { left: number; right: number; top: number; bottom: number };
  x: Mark[];
  y: Mark[];
  xLabel: string;
  yLabel: string;
  grid?: boolean;
};

/** A tick on an axis. */
export type Mark = { px: number; text: string };

/** One place along a chart that can be read: where it is, and its words, one for each column. */
export type Reading = { px: number; cells: string[] };

/** What a line, an area or a sign in the drawing means. */
export type Key = {
  sign: 'line' | 'dashed' | 'ghost' | 'band' | 'short' | 'stop' | 'circle' | 'cross' | 'diamond';
  words: string;
  tone?: 'ink' | 'water';
};

/** The reading nearest to a place; -1 where there is none. */
export function nearest(readings: Reading[], px: number): number {
  let best = -1;
  let off = Infinity;
  readings.forEach((reading, k) => {
    if (Math.abs(reading.px - px) < off) [best, off] = [k, Math.abs(reading.px - px)];
  });
  return best;
}

/** At most so many of the readings, evenly, the first and the last among them: for a table that is heard. */
export function thinned(readings: Reading[], most = 21): Reading[] {
  if (readings.length <= most) return readings;
  const step = (readings.length - 1) / (most - 1);
  return Array.from({ length: most }, (_, k) => readings[Math.round(k * step)]!);
}

/** A reading in a line of words: the first column, then each named. */
export function said(columns: string[], reading: Reading | undefined): string {
  if (!reading) return '';
  return reading.cells
    .map((cell, k) => (k === 0 ? cell : `${columns[k]} ${cell}`))
    .filter((_, k) => reading.cells[k] !== '')
    .join(' · ');
}
