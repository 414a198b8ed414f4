import { describe, expect, it } from 'vitest';

import type { ShelfPart } from '$lib/api/client';

import { matches, MOST_COMPARED, ShelfState, sizes } from './shelf.svelte';

const part = (more: Partial<ShelfPart> = {}): ShelfPart => ({
  id: 1,
  kind: 'motor',
  name: '36 x 74, 2200 KV',
  document: { name: 'x', can_diameter: { value: 36, unit: 'mm' }, poles: 4, kind: 'inrunner' },
  state: 'in use',
  pieces: 1,
  price: null,
  record: { note: 'rattles' },
  runs: 3,
  hours: 0.2,
  due: '',
  boats: ['Dipper'],
  events: [],
  tag: '',
  ...more,
});

describe('the shelf', () => {
  it('finds by size, word, boat and note', () => {
    for (const words of ['', '36 mm', '36mm', 'dipper', 'rattles', 'motor in use', 'poles 4']) {
      expect(matches(part(), words), words).toBe(true);
    }
    expect(matches(part(), 'dipper pack')).toBe(false);
  });
  it('writes sizes as they were typed', () => {
    expect(sizes(part())).toBe('can diameter 36 mm · poles 4 · kind inrunner');
  });
  it('counts pieces, shows one kind, tells what is due', () => {
    const shelf = new ShelfState();
    shelf.parts = [part({ pieces: 2 }), part({ id: 2, kind: 'shaft', due: 'grease it' })];
    expect(shelf.counts).toEqual({ motor: 2, shaft: 1 });
    shelf.kind = 'shaft';
    expect(shelf.shown.map((p) => p.id)).toEqual([2]);
    expect(shelf.due.map((p) => p.id)).toEqual([2]);
  });
  it('picks at most six', () => {
    const shelf = new ShelfState();
    for (let id = 1; id <= 8; id++) shelf.pick(id);
    expect(shelf.picked).toHaveLength(MOST_COMPARED);
    shelf.pick(1);
    expect(shelf.picked).not.toContain(1);
  });
});
