/** Whose runs a forecast stands on, in words. */
import type { Forecast } from '$lib/api/client';

type Lessons = Pick<Forecast, 'known_runs' | 'known_here'>;

/** "from 12 runs", or "from 12 runs of your other boats" for a boat that has none of its own. */
export function lessonsOf({ known_runs: runs, known_here: here }: Lessons): string {
  const count = `from ${runs} ${runs === 1 ? 'run' : 'runs'}`;
  return here ? count : `${count} of your other boats`;
}
