import { describe, expect, it } from 'vitest';

import type { Forecast } from '$lib/api/client';

import { crossing } from './crossing';

function forecast(speed: number): Forecast {
  return {
    point: { speed_mps: { value: speed }, thrust_n: { value: 20 } },
    curves: { speed_mps: [0, 10, 20, 30], thrust_n: [60, 40, 20, null], resistance_n: [0, 8, 20, 36] },
  } as unknown as Forecast;
}

describe('crossing', () => {
  it('puts the point where it belongs in the frame', () => {
    const drawn = crossing(forecast(20));
    // two thirds of the way along, a third of the way up
    expect(drawn.x).toBeCloseTo(2 + (2 / 3) * 166, 6);
    expect(drawn.y).toBeCloseTo(74 - (1 / 3) * 70, 6);
    expect(drawn.ghosts).toEqual([]);
  });
  it('leaves out what has no thrust any more', () => {
    expect(crossing(forecast(20)).thrust.match(/[ML]/g)).toHaveLength(3);
    expect(crossing(forecast(20)).resistance.match(/[ML]/g)).toHaveLength(4);
  });
  it('draws the ghost in the same frame', () => {
    expect(crossing(forecast(20), forecast(15)).ghosts).toHaveLength(2);
  });
});
