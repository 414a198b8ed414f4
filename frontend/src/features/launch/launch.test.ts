import { describe, expect, it } from 'vitest';

import { today } from '$lib/units/day';

import { clock, minutesOf } from './launch.svelte';

describe('the clock', () => {
  it('shows minutes after midnight, and days that passed', () => {
    expect(clock(0)).toBe('00:00');
    expect(clock(612.4)).toBe('10:12');
    expect(clock(1439.6)).toBe('00:00 +1');
    expect(clock(1500)).toBe('01:00 +1');
    expect(clock(null)).toBe('–');
    expect(clock(Infinity)).toBe('–');
  });

  it('reads what it shows, and nothing else', () => {
    for (const minute of [0, 59, 600, 1439]) expect(minutesOf(clock(minute))).toBe(minute);
    expect(minutesOf('9:05')).toBe(545);
    for (const text of ['', '24:00', '10:60', 'noon', '10', '10:5']) expect(minutesOf(text)).toBeUndefined();
  });

  it('writes today as the standard does', () => {
    expect(today(new Date(2026, 4, 3, 23, 59).getTime())).toBe('2026-05-03');
  });
});
