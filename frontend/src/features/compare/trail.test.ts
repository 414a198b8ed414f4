import { describe, expect, it } from 'vitest';

import type { TrailView } from '$lib/api/client';

import { lanes, off, reach } from './trail';

function setup(setup_id: number, parent_id: number | null, low = 20, high = 24, measured?: number) {
  const runs = measured
    ? [{ run_id: 1, started_at: '', measured: [{ label: 'Speed', dimension: 'speed', measured }] }]
    : [];
  return { setup_id, parent_id, low_mps: low, high_mps: high, forecast_mps: 22, runs };
}
const trail = (...setups: unknown[]) => ({ boat_id: 1, boat_name: 'x', setups }) as unknown as TrailView;

describe('trail', () => {
  it('keeps a straight line in one lane', () => {
    expect(lanes(trail(setup(1, null), setup(2, 1), setup(3, 2))).map((n) => n.lane)).toEqual([0, 0, 0]);
  });
  it('opens a lane for a second child of the same setup', () => {
    const nodes = lanes(trail(setup(1, null), setup(2, 1), setup(3, 1), setup(4, 3)));
    expect(nodes.map((n) => n.lane)).toEqual([0, 0, 1, 1]);
    expect(nodes[2]).toMatchObject({ parentRow: 0, parentLane: 0 });
  });
  it('reaches past bands and measurements', () => {
    const [low, high] = reach(trail(setup(1, null, 20, 24, 30)));
    expect(low).toBeLessThan(20);
    expect(high).toBeGreaterThan(30);
  });
  it('says how far a measurement is off', () => {
    expect(off(23, 20)).toBeCloseTo(15);
    expect(off(null, 20)).toBeUndefined();
    expect(off(3, null)).toBeUndefined();
  });
});
