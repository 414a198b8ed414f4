import type { Logbook } from '$lib/api/client';

type Page = Pick<Logbook, 'outings' | 'goes_on'>;

/** Two pages of outings: one that was cut by the page's end, as the server says, is put together again. */
export function joined(first: Logbook['outings'], { outings: second, goes_on }: Page): Logbook['outings'] {
  const last = first.at(-1);
  const next = second[0];
  if (!last || !next || !goes_on) return [...first, ...second];
  const whole = {
    ...last,
    started_at: next.started_at,
    water_c: next.water_c ?? last.water_c,
    air_c: next.air_c ?? last.air_c,
    wind_mps: next.wind_mps ?? last.wind_mps,
    packs: [...new Set([...last.packs, ...next.packs])].sort(),
    runs: [...last.runs, ...next.runs],
  };
  return [...first.slice(0, -1), whole, ...second.slice(1)];
}
