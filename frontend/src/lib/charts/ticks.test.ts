import { afterEach, describe, expect, it } from 'vitest';

import { units } from '$lib/units/units.svelte';

import { unitTicks } from './ticks';

describe('ticks in the racer’s unit', () => {
  afterEach(() => (units.system = 'metric'));

  it('are round in km/h over an axis in m/s', () => {
    const ticks = unitTicks([0, 25], 'speed', 5);
    expect(ticks.map((t) => t.text)).toEqual(['0', '20', '40', '60', '80']);
    expect(ticks.map((t) => t.at * 3.6)).toEqual([0, 20, 40, 60, 80].map((v) => expect.closeTo(v, 9)));
  });

  it('keep the offset of a temperature', () => {
    units.system = 'imperial';
    const ticks = unitTicks([0, 100], 'temperature', 4);
    expect(ticks.map((t) => t.text)).toEqual(['50', '100', '150', '200']);
    expect(ticks[1]?.at).toBeCloseTo(37.7778, 3);
  });
});
