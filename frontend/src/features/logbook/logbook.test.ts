import { describe, expect, it } from 'vitest';

import type { Logbook } from '$lib/api/client';

import { joined } from './outings';
import { dots, months, records } from './season';

const outing = (start: string, end: string, runs: number[], packs: string[] = []) =>
  ({
    started_at: `2026-05-03T${start}:00Z`,
    ended_at: `2026-05-03T${end}:00Z`,
    water_c: null,
    air_c: null,
    wind_mps: null,
    packs,
    runs: runs.map((id) => ({ id })),
  }) as unknown as Logbook['outings'][number];

describe('joined', () => {
  it('puts an outing together that a page cut', () => {
    const whole = joined([outing('14:00', '15:00', [5, 4], ['b'])], {
      outings: [outing('10:00', '12:30', [3], ['a'])],
      goes_on: true,
    });
    expect(whole).toHaveLength(1);
    expect(whole[0]?.runs.map((r) => r.id)).toEqual([5, 4, 3]);
    expect(whole[0]?.packs).toEqual(['a', 'b']);
    expect(whole[0]?.started_at).toContain('10:00');
  });
  it('leaves two outings two', () => {
    expect(
      joined([outing('20:00', '20:30', [2])], { outings: [outing('10:00', '12:30', [1])], goes_on: false }),
    ).toHaveLength(2);
  });
});

describe('season', () => {
  const season = [
    { run_id: 1, boat_id: 1, at: '2026-05-01T00:00:00Z', best_mps: 10, broke: false },
    { run_id: 2, boat_id: 1, at: '2026-05-02T00:00:00Z', best_mps: 9, broke: true },
    { run_id: 3, boat_id: 2, at: '2026-05-03T00:00:00Z', best_mps: null, broke: false },
    { run_id: 4, boat_id: 1, at: '2026-05-04T00:00:00Z', best_mps: 12, broke: false },
  ];
  const laid = dots(
    season,
    (at) => at,
    (mps) => 100 - mps,
    100,
  );
  it('stands a run without a speed on the floor', () => {
    expect(laid.map((d) => d.y)).toEqual([90, 91, 100, 88]);
  });
  it('knows what was a record when it was run', () => {
    expect(records(laid, 1).map((d) => d.id)).toEqual([1, 4]);
    expect(records(laid, 2)).toEqual([]);
  });
  it('names months, the year with January', () => {
    const all = months(Date.UTC(2025, 10, 20), Date.UTC(2026, 1, 3), 12).map((m) => m.text);
    expect(all).toEqual(['Dec', 'Jan 2026', 'Feb']);
    expect(months(Date.UTC(2025, 0, 2), Date.UTC(2025, 11, 31), 4).length).toBeLessThanOrEqual(4);
  });
});
