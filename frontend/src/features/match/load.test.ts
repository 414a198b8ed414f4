import { describe, expect, it } from 'vitest';

import type { Margin } from '$lib/api/client';

import { loadBar } from './load';

const current = { load: 97, limit: 108, stop: 160, rising: true } as Margin;
const cell = { load: 3.68, limit: 3.3, stop: 3.0, rising: false } as Margin;

describe('loadBar', () => {
  it('puts load, limit and stop in their order', () => {
    const bar = loadBar(current);
    expect(bar.load).toBeLessThan(bar.limit);
    expect(bar.limit).toBeLessThan(bar.stop);
    expect(bar.stop).toBeLessThan(100);
    // in proportion: 97 of 108
    expect(bar.load / bar.limit).toBeCloseTo(97 / 108, 6);
  });
  it('turns round for a load that must stay above its limit', () => {
    const bar = loadBar(cell);
    expect(bar.stop).toBeLessThan(bar.limit);
    expect(bar.load).toBeGreaterThan(bar.limit);
  });
  it('never leaves the bar', () => {
    expect(loadBar({ ...current, load: 999 }).load).toBe(100);
    expect(loadBar({ ...cell, load: 1 }).load).toBe(0);
  });
});
