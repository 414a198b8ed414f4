import { describe, expect, it } from 'vitest';

import type { Forecast } from '$lib/api/client';

import { flow } from './driveline';

const forecast = {
  point: { chemical_power_w: { value: 1000, low: null, high: null } },
  losses: [
    { loss: 'pack', name: 'Pack', watts: 70 },
    { loss: 'copper', name: 'Copper', watts: 130 },
    { loss: 'propeller', name: 'Propeller', watts: 300 },
  ],
} as unknown as Forecast;

describe('flow', () => {
  it('draws each loss as wide as its part of the power', () => {
    const drawn = flow(forecast, 1000, 120, 40);
    expect(drawn.leaks.map((l) => Number(l.width.toFixed(9)))).toEqual([2.8, 5.2, 12]);
  });
  it('leaves as much as is left over at the end', () => {
    // 1000 - 70 - 130 - 300 W of 1000 W, on 40 px
    expect(flow(forecast, 1000, 120, 40).depth).toBeCloseTo(20, 9);
  });
  it('keeps the losses in their order along the line', () => {
    const xs = flow(forecast, 900, 120, 40).leaks.map((l) => l.x);
    expect(xs).toEqual([...xs].sort((a, b) => a - b));
  });
});
