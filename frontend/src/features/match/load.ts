/** Geometry of a load bar, in percent of its width. */
import type { Margin } from '$lib/api/client';

export type LoadBar = { load: number; limit: number; stop: number; at: (value: number) => number };

export function loadBar(margin: Margin): LoadBar {
  // A rising load leaves room past its stop; a falling one (a cell's voltage) starts below its stop.
  const low = margin.rising ? 0 : margin.stop - 1.5 * (margin.limit - margin.stop);
  const high = margin.rising
    ? Math.max(margin.stop * 1.15, margin.limit * 1.3)
    : margin.limit + 3 * (margin.limit - margin.stop);
  const at = (value: number) => Math.min(Math.max(((value - low) / (high - low)) * 100, 0), 100);
  return { load: at(margin.load), limit: at(margin.limit), stop: at(margin.stop), at };
}
