/** What the verdicts are called on every screen. */
import type { Verdict } from '$lib/api/client';

export const VERDICTS: Record<Verdict, string> = {
  holds: 'holds',
  short: 'short runs only',
  stop: 'stop',
  none: 'does not run',
};
