/** What a place should read after landing, and what to ask where it does not. */
import type { Soak } from '$lib/api/client';

/** A gun is good to so much. */
const GUN_K = 3;

type Should = { low: number; mid: number; high: number };

/** Between the seconds of the table in a straight line; before and behind it as at its ends. */
export function shouldRead(seconds: number[], place: Soak['places'][number], at: number): Should {
  const last = seconds.length - 1;
  const k = Math.min(
    Math.max(
      seconds.findIndex((s) => s >= at),
      at > (seconds[last] ?? 0) ? last : 0,
    ),
    last,
  );
  const j = Math.max(k - 1, 0);
  const [from, to] = [seconds[j] ?? 0, seconds[k] ?? 0];
  const part = to > from ? Math.min(Math.max((at - from) / (to - from), 0), 1) : 1;
  const value = (column: number[]): number => (column[j] ?? 0) + part * ((column[k] ?? 0) - (column[j] ?? 0));
  return { low: value(place.low_c), mid: value(place.celsius), high: value(place.high_c) };
}

/** The question of a reading out of line; nothing of one that is within what the model and the gun leave. */
export function lineOf(place: Soak['places'][number], should: Should, celsius: number): string | undefined {
  if (celsius > should.high + GUN_K) return place.if_hot;
  if (celsius < should.low - GUN_K) return place.if_cold;
  return undefined;
}
