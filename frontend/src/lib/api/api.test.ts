import { describe, expect, it, vi } from 'vitest';

import { differences } from '$lib/state/conflict.svelte';
import { day, shortDay } from '$lib/units/day';

import { Once } from './once';
import { allPages } from './pages';

describe('pages', () => {
  it('are asked for until there are no more', async () => {
    const pages: Record<string, { items: number[]; next: string | null }> = {
      first: { items: [1, 2], next: 'b' },
      b: { items: [3], next: null },
    };
    const fetch = vi.fn((after: string | undefined) => Promise.resolve(pages[after ?? 'first']!));
    expect(await allPages(fetch)).toEqual([1, 2, 3]);
    expect(fetch.mock.calls).toEqual([[undefined], ['b']]);
  });
});

describe('a request that makes something', () => {
  it('keeps its key for the same body until it arrived', () => {
    const once = new Once();
    const first = once.header({ a: 1 })['Idempotency-Key'];
    expect(first).toMatch(/^[A-Za-z0-9_-]{8,80}$/); // what the server takes
    expect(once.header({ a: 1 })['Idempotency-Key']).toBe(first);
    expect(once.header({ a: 2 })['Idempotency-Key']).not.toBe(first);
    const second = once.header({ a: 2 })['Idempotency-Key'];
    once.arrived();
    expect(once.header({ a: 2 })['Idempotency-Key']).not.toBe(second);
  });
});

describe('two states side by side', () => {
  it('show only what differs, in words', () => {
    const mine = {
      note: 'calm',
      wanted: { value: 92, unit: 'km/h' },
      conditions: { water: { value: 14, unit: 'degC' }, air: null },
      locked: ['motor', 'pack'],
      same: [1, 2],
    };
    const theirs = { ...mine, note: '', wanted: null, conditions: {}, locked: [] };
    expect(differences(mine, theirs)).toEqual([
      { name: 'note', mine: 'calm', theirs: '–' },
      { name: 'wanted', mine: '92 km/h', theirs: '–' },
      { name: 'conditions', mine: 'water 14 °C', theirs: '–' },
      { name: 'locked', mine: 'motor; pack', theirs: '–' },
    ]);
  });
});

describe('days', () => {
  it('cannot be read two ways', () => {
    expect(day('2026-05-03T10:00:00Z')).toBe('3 May 2026');
    expect(shortDay('2026-11-07T10:00:00Z')).toBe('7 Nov');
  });
});
