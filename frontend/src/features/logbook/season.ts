/** The season as a drawing: runs in time, each boat a line of its own height. */
import type { Logbook } from '$lib/api/client';

type Dot = { id: number; x: number; y: number; boat: number; broke: boolean; at: string; mps: number | null };

/** Runs laid out in a box; those without a speed stand on its floor. */
export function dots(
  season: Logbook['season'],
  x: (at: number) => number,
  y: (mps: number) => number,
  floor: number,
): Dot[] {
  return season.map((run) => ({
    id: run.run_id,
    boat: run.boat_id,
    broke: run.broke,
    at: run.at,
    mps: run.best_mps,
    x: x(Date.parse(run.at)),
    y: run.best_mps === null ? floor : y(run.best_mps),
  }));
}

/** Firsts of months between two moments, as many as have room. */
export function months(from: number, to: number, most: number): { at: number; text: string }[] {
  const found: { at: number; text: string }[] = [];
  const day = new Date(from);
  let cursor = Date.UTC(day.getUTCFullYear(), day.getUTCMonth() + 1, 1);
  while (cursor <= to) {
    const first = new Date(cursor);
    const month = first.toLocaleString('en-GB', { month: 'short', timeZone: 'UTC' });
    found.push({ at: cursor, text: first.getUTCMonth() === 0 ? `${month} ${first.getUTCFullYear()}` : month });
    cursor = Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 1);
  }
  const step = Math.max(Math.ceil(found.length / most), 1);
  return found.filter((_, k) => k % step === 0);
}

/** Best speed of each boat so far, as steps: how a season went upwards. */
export function records(dots: Dot[], boat: number): Dot[] {
  let best = 0;
  return dots.filter((dot) => {
    if (dot.boat !== boat || dot.mps === null || dot.mps <= best) return false;
    best = dot.mps;
    return true;
  });
}
