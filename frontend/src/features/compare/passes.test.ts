import { describe, expect, it } from 'vitest';

import type { TrailView } from '$lib/api/client';

import { candidates, fastest, MOST } from './passes';

const run = (run_id: number) => ({ run_id, started_at: `day ${run_id}`, measured: [] });

describe('passes on one axis', () => {
  it('takes the newest run of each setup, newest setups first, and no more than can be told apart', () => {
    const setups = [...Array(8).keys()].map((k) => ({
      setup_id: k,
      name: `setup ${k}`,
      runs: k === 6 ? [] : [run(10 * k), run(10 * k + 1)],
    }));
    const found = candidates({ setups } as unknown as TrailView);
    expect(found.map((c) => c.runId)).toEqual([71, 51, 41, 31, 21]);
    expect(found).toHaveLength(MOST);
  });

  it('cuts the fastest pass out and counts from its beginning, leaving gaps out', () => {
    const track = {
      time_s: [...Array(40).keys()],
      speed_mps: [...Array(40).keys()].map((t) => (t === 22 ? null : t)),
    };
    const spans = [
      { start_s: 5, end_s: 9, peak_mps: 9 },
      { start_s: 20, end_s: 25, peak_mps: 25 },
    ];
    const found = fastest(track, spans);
    expect(found?.seconds).toEqual([-2, -1, 0, 1, 3, 4, 5, 6]);
    expect(found?.mps).toEqual([18, 19, 20, 21, 23, 24, 25, 26]);
    expect(fastest(track, [])).toBeUndefined();
    expect(fastest({ time_s: [0], speed_mps: [null] }, spans)).toBeUndefined();
  });
});
