import { beforeEach, describe, expect, it, vi } from 'vitest';

import { go, MARKS, pathTo, setNavigator } from './go';
import { here } from './here.svelte';
import { forget, keep, kept } from './kept';

const store = new Map<string, string>();

describe('kept', () => {
  beforeEach(() => {
    store.clear();
    vi.stubGlobal('localStorage', {
      getItem: (k: string) => store.get(k) ?? null,
      setItem: (k: string, v: string) => store.set(k, v),
      removeItem: (k: string) => store.delete(k),
    });
  });

  it('keeps, gives back and forgets', () => {
    keep('x', { a: [1, 2] });
    expect(kept('x')).toEqual({ a: [1, 2] });
    forget('x');
    expect(kept('x')).toBeUndefined();
  });

  it('does not trip over a broken or a forbidden store', () => {
    store.set('kunstflug.broken', '{');
    expect(kept('broken')).toBeUndefined();
    vi.stubGlobal('localStorage', {
      getItem: () => {
        throw new Error('forbidden');
      },
      setItem: () => {
        throw new Error('full');
      },
      removeItem: () => {
        throw new Error('forbidden');
      },
    });
    expect(() => keep('x', 1)).not.toThrow();
    expect(kept('x')).toBeUndefined();
    expect(() => forget('x')).not.toThrow();
  });
});

describe('the course', () => {
  it('has a key of its own for every mark', () => {
    expect(new Set(MARKS.map((m) => m.key)).size).toBe(MARKS.length);
    expect(MARKS.map((m) => m.mark)).toEqual(['aim', 'match', 'fit', 'launch', 'run', 'compare', 'trim']);
  });

  it('reads where one is from the address it writes', () => {
    here.pathname = pathTo('run', 12);
    expect(here.setupId).toBe(12);
    expect(here.mark).toBe('run');
    here.pathname = '/new';
    expect(here.setupId).toBeUndefined();
    expect(here.mark).toBeUndefined();
  });

  it('goes by the way it was given', () => {
    const went: string[] = [];
    setNavigator((path) => went.push(path));
    go('/new');
    expect(went).toEqual(['/new']);
  });
});
