import { afterEach, describe, expect, it, vi } from 'vitest';

import type { SetupDocument } from '$lib/api/client';

const calls: string[] = [];
const states = ['running', 'running', 'done'];
vi.mock('$lib/api/client', async (original) => {
  const real = await original<typeof import('$lib/api/client')>();
  const job = (state: string, done: number) => ({ id: 'a', state, done, total: 4, problem: '', result: null });
  return {
    ...real,
    ask: <T>(answer: Promise<T>) => answer,
    api: {
      POST: () => (calls.push('start'), Promise.resolve(job('waiting', 0))),
      GET: () => (calls.push('ask'), Promise.resolve(job(states.shift() ?? 'stopped', 2))),
      DELETE: () => (calls.push('stop'), Promise.resolve(job('running', 2))),
    },
  };
});

const { SearchState } = await import('./search.svelte');

afterEach(() => calls.splice(0));

describe('a large search', () => {
  it('is watched until it is done', async () => {
    const search = new SearchState();
    const running = search.start({} as SetupDocument);
    await Promise.resolve();
    await Promise.resolve();
    expect(search.busy).toBe(true);
    await running;
    expect(search.busy).toBe(false);
    expect(search.job?.state).toBe('done');
    expect(search.part).toBe(0.5);
    expect(calls.filter((c) => c === 'ask')).toHaveLength(3);
  });
  it('is stopped when asked', async () => {
    const search = new SearchState();
    await search.stop();
    expect(calls).toEqual([]);
    const running = search.start({} as SetupDocument);
    await Promise.resolve();
    await search.stop();
    await running;
    expect(calls).toContain('stop');
    expect(search.job?.state).toBe('stopped');
  });
});
