/** Passes of several runs on one axis: the fastest of each, from its own beginning. */
import { api, ask, type TrailView } from '$lib/api/client';

export type Pass = { runId: number; setup: string; day: string; seconds: number[]; mps: number[] };

/** A little before a pass, so that the way up to speed is seen. */
const BEFORE_S = 2;
const AFTER_S = 1;
export const MOST = 5;

/** The newest run of each setup that may have a track; the newest setups first. */
export function candidates(trail: TrailView): { runId: number; setup: string; day: string }[] {
  return trail.setups
    .toReversed()
    .flatMap((setup) => {
      const run = setup.runs.at(-1);
      return run ? [{ runId: run.run_id, setup: setup.name, day: run.started_at }] : [];
    })
    .slice(0, MOST);
}

type Track = { time_s: number[]; speed_mps: (number | null)[] };
type Span = { start_s: number; end_s: number; peak_mps: number };

/** The fastest pass of a track, its seconds counted from where the pass begins; none where there is no pass. */
export function fastest(track: Track, spans: Span[]): { seconds: number[]; mps: number[] } | undefined {
  const best = spans.toSorted((a, b) => b.peak_mps - a.peak_mps)[0];
  if (!best) return undefined;
  const seconds: number[] = [];
  const mps: number[] = [];
  for (const [k, t] of track.time_s.entries()) {
    const speed = track.speed_mps[k];
    if (speed === null || speed === undefined || t < best.start_s - BEFORE_S || t > best.end_s + AFTER_S) continue;
    seconds.push(t - best.start_s);
    mps.push(speed);
  }
  return seconds.length > 1 ? { seconds, mps } : undefined;
}

/** The fastest pass of the newest run of each setup. */
export async function passes(trail: TrailView): Promise<Pass[]> {
  const found = await Promise.all(
    candidates(trail).map(async (one): Promise<Pass[]> => {
      const params = { path: { run_id: one.runId } };
      const run = await ask(api.GET('/api/runs/{run_id}', { params }));
      if (!run.summary?.passes.length) return [];
      const track = await ask(api.GET('/api/runs/{run_id}/track', { params }));
      const pass = fastest(track, run.summary.passes);
      return pass ? [{ ...one, ...pass }] : [];
    }),
  );
  return found.flat().reverse();
}
