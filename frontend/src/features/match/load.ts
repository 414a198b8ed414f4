/** Geometry of a load bar, in percent of its width. */
import type { Margin } from '$lib/api/client';

/** `stop` is the end of the bar where the limit is a guess: such a limit never says stop. */
type LoadBar = { load: number; limit: number; stop: number; at: (value: number) => number };

const ROOM = 1.3;

export function loadBar(margin: Margin): LoadBar {
  const { limit, stop, rising } = margin;
  const gap = stop === null ? 0.1 * limit : limit - stop;
  // A rising load leaves room past its stop; a falling one (a cell's voltage) starts below its stop.
  const low = rising ? 0 : limit - 2.5 * gap;
  const high = rising ? Math.max((stop ?? 0) * 1.15, limit * ROOM) : limit + 3 * gap;
  const at = (value: number) => Math.min(Math.max(((value - low) / (high - low)) * 100, 0), 100);
  return { load: at(margin.load), limit: at(limit), stop: stop === null ? (rising ? 100 : 0) : at(stop), at };
}
