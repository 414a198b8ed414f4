import { describe, expect, it } from 'vitest';

import { nearest, said, thinned } from './frame';

const readings = Array.from({ length: 101 }, (_, k) => ({ px: 40 + 5 * k, cells: [`${k} s`, `${2 * k} W`] }));

describe('readings of a chart', () => {
  it('finds the one under the hand, and the last one beyond the end', () => {
    expect(nearest(readings, 52)).toBe(2);
    expect(nearest(readings, 53)).toBe(3);
    expect(nearest(readings, 9999)).toBe(100);
    expect(nearest([], 10)).toBe(-1);
  });
  it('keeps both ends when there are too many for a table', () => {
    const few = thinned(readings);
    expect(few).toHaveLength(21);
    expect(few[0]).toBe(readings[0]);
    expect(few.at(-1)).toBe(readings.at(-1));
    expect(few[1]?.cells[0]).toBe('5 s');
    expect(thinned(readings.slice(0, 5))).toHaveLength(5);
  });
  it('says a reading, leaving out what is not known there', () => {
    expect(said(['time', 'power'], readings[3])).toBe('3 s · power 6 W');
    expect(said(['time', 'power'], { px: 0, cells: ['3 s', ''] })).toBe('3 s');
    expect(said(['time'], undefined)).toBe('');
  });
});
