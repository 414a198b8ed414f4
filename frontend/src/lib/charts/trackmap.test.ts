import { describe, expect, it } from 'vitest';

import type { TrackView } from '$lib/api/client';

import { CLASSES, drawTrack, indexAt, scaleLength } from './trackmap';

const track: TrackView = {
  time_s: [0, 1, 2, 3, 4, 5],
  east_m: [0, 10, 20, null, 40, 40],
  north_m: [0, 0, 0, null, 0, 30],
  speed_mps: [1, 10, 20, null, 20, 20],
  turns: [],
};

describe('drawTrack', () => {
  it('keeps one scale both ways', () => {
    const drawn = drawTrack(track, 400, 400, 20);
    const [a, b, c] = [drawn.point(0)!, drawn.point(1)!, drawn.point(5)!];
    expect(b.x - a.x).toBeCloseTo(10 * drawn.pxPerMetre, 6);
    expect(a.y - c.y).toBeCloseTo(30 * drawn.pxPerMetre, 6);
    expect(Math.max(c.x, a.x)).toBeLessThanOrEqual(380.001);
  });
  it('leaves gaps open', () => {
    const drawn = drawTrack(track, 400, 400);
    expect(drawn.point(3)).toBeUndefined();
    // four segments could be drawn with the gap filled; two lie outside it before, one after
    expect(drawn.paths.join('').match(/L/g)).toHaveLength(3);
  });
  it('puts the fastest into the last class', () => {
    expect(drawTrack(track, 400, 400).paths[CLASSES - 1]).not.toBe('');
  });
});

describe('helpers', () => {
  it('finds the nearest sample', () => {
    expect(indexAt([0, 1, 2, 3], 1.4)).toBe(1);
    expect(indexAt([0, 1, 2, 3], 1.6)).toBe(2);
    expect(indexAt([0, 1, 2, 3], 99)).toBe(3);
  });
  it('chooses a round scale', () => {
    expect(scaleLength(2, 500)).toBe(50);
    expect(scaleLength(1.3, 500)).toBe(50);
    expect(scaleLength(0.9, 500)).toBe(100);
  });
});
