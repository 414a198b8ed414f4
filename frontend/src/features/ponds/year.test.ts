import { describe, expect, it } from 'vitest';

import { dayOfYear, MONTHS, monthOf } from './year';

describe('a year', () => {
  it('counts days from New Year', () => {
    expect(dayOfYear('2026-01-01')).toBe(1);
    expect(dayOfYear('2026-12-31')).toBe(365);
    expect(dayOfYear('2028-12-31')).toBe(366);
  });

  it('has twelve months that begin where dates say', () => {
    expect(MONTHS).toHaveLength(12);
    for (const [k, [day]] of MONTHS.entries()) expect(day).toBe(dayOfYear(`2026-${String(k + 1).padStart(2, '0')}-01`));
  });

  it('says a day by its part of the month', () => {
    expect(monthOf(1)).toBe('early Jan');
    expect(monthOf(196)).toBe('mid Jul');
    expect(monthOf(366)).toBe('late Dec');
  });
});
