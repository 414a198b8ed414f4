import { describe, expect, it } from 'vitest';

import { dateOf, dayOfYear, MONTHS } from './year';

describe('a year', () => {
  it('counts days from New Year', () => {
    expect(dayOfYear('2026-01-01')).toBe(1);
    expect(dayOfYear('2026-12-31')).toBe(365);
    expect(dayOfYear('2028-12-31')).toBe(366);
  });

  it('has twelve months, which begin on the days that an almanac has', () => {
    expect(MONTHS.map(([day]) => day)).toEqual([1, 32, 60, 91, 121, 152, 182, 213, 244, 274, 305, 335]);
    expect(MONTHS[4]?.[1]).toBe('May');
  });

  it('has a date for each day', () => {
    for (const day of [1, 59, 60, 196, 365]) expect(dayOfYear(dateOf(day))).toBe(day);
  });
});
