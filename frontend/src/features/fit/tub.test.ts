import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { SetupDocument } from '$lib/api/client';

const store = new Map<string, string>();
vi.stubGlobal('localStorage', {
  getItem: (k: string) => store.get(k) ?? null,
  setItem: (k: string, v: string) => store.set(k, v),
  removeItem: (k: string) => store.delete(k),
});
let left: number | null = 40;
const bodies: { readings: { seconds: number }[] }[] = [];
vi.mock('$lib/api/client', async (original) => ({
  ...(await original<typeof import('$lib/api/client')>()),
  ask: <T>(answer: Promise<T>) => answer,
  api: {
    POST: (_: string, { body }: { body: { readings: { seconds: number }[] } }) => {
      bodies.push(body);
      return Promise.resolve({ seconds_left: left, stop: false, taught: [] });
    },
  },
}));

const { EVERY_S, TubState } = await import('./tub.svelte');
const q = (value: number) => ({ value, unit: 'degC', source: 'measured' as const });
const flush = () => new Promise((done) => setTimeout(done, 0));

describe('a held-back test', () => {
  beforeEach(() => {
    store.clear();
    bodies.length = 0;
    left = 40;
  });

  it('asks for a reading each half minute', async () => {
    const tub = new TubState();
    tub.open(7, {} as SetupDocument);
    tub.start(1000);
    tub.tick(1000 + 20_000);
    expect(tub.asks).toBe(false);
    tub.tick(1000 + EVERY_S * 1000 + 500);
    expect(tub.asks).toBe(true);
    tub.read('case', q(31));
    expect(tub.asks).toBe(false);
    await flush();
    expect(bodies.at(-1)?.readings).toHaveLength(1);
  });

  it('counts down between two readings and says stop in time', async () => {
    const tub = new TubState();
    tub.open(7, {} as SetupDocument);
    tub.start(0);
    tub.tick(30_000);
    tub.read('case', q(50));
    await flush();
    expect(tub.left).toBeCloseTo(40);
    tub.tick(55_000);
    expect(tub.left).toBeCloseTo(15);
    expect(tub.stop).toBe(false);
    tub.tick(61_000);
    expect(tub.stop).toBe(true);
  });

  it('survives a reload', () => {
    const tub = new TubState();
    tub.open(7, {} as SetupDocument);
    tub.start(0);
    tub.tick(30_000);
    tub.read('case', q(40));
    const again = new TubState();
    again.open(7, {} as SetupDocument);
    expect(again.readings).toHaveLength(1);
    expect(again.running).toBe(true);
    again.drop();
    expect(again.readings).toHaveLength(0);
  });
});
