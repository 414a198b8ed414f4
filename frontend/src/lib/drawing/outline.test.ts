import { describe, expect, it } from 'vitest';

import { outline } from './outline';

function reach(d: string): number {
  return Math.max(...[...d.matchAll(/[ML]([\d.]+) /g)].map((m) => Number(m[1])));
}

describe('outline', () => {
  it('draws a longer boat longer, to scale', () => {
    const short = reach(outline('mono', 0.5).hulls[0]!) - 2;
    const long = reach(outline('mono', 1.0).hulls[0]!) - 2;
    expect(long / short).toBeCloseTo(2, 1);
  });
  it('gives an outrigger its two sponsons', () => {
    expect(outline('outrigger', 0.55).hulls).toHaveLength(3);
  });
});
