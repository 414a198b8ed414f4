import { describe, expect, it } from 'vitest';

import { lineOf, shouldRead } from './soak';

const place = {
  place: 'motor front',
  celsius: [50, 60, 55],
  low_c: [45, 54, 50],
  high_c: [55, 66, 60],
  if_hot: 'hot?',
  if_cold: 'cold?',
};
const seconds = [0, 60, 180];

describe('after landing', () => {
  it('goes in a straight line between the seconds of the table', () => {
    expect(shouldRead(seconds, place, 0)).toEqual({ low: 45, mid: 50, high: 55 });
    expect(shouldRead(seconds, place, 30).mid).toBe(55);
    expect(shouldRead(seconds, place, 60).mid).toBe(60);
    expect(shouldRead(seconds, place, 120).mid).toBe(57.5);
    expect(shouldRead(seconds, place, 9999).mid).toBe(55);
    expect(shouldRead(seconds, place, -5).mid).toBe(50);
  });

  it('asks at once about a reading that is out of line, and leaves the gun its error', () => {
    const should = shouldRead(seconds, place, 60);
    expect(lineOf(place, should, 68)).toBeUndefined();
    expect(lineOf(place, should, 70)).toBe('hot?');
    expect(lineOf(place, should, 52)).toBeUndefined();
    expect(lineOf(place, should, 40)).toBe('cold?');
  });
});
