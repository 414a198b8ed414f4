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

const { EVERY_S, outlook, TubState } = await import('./tub.svelte');
const q = (value: number) => ({ value, unit: 'degC' as const, source: 'measured' as const });
const flush = () => new Promise((done) => setTimeout(done, 0));

describe('how a curve of temperatures goes on', () => {
  const time = Array.from({ length: 61 }, (_, k) => 10 * k);
  it('is level where it rises less than a kelvin a minute from there on', () => {
    // 20 + 60 (1 - e^(-t / 60 s)): the rate falls to 1 K/min at t = 60 s ln 60 = 246 s
    const found = outlook(
      time,
      time.map((t) => 20 + 60 * (1 - Math.exp(-t / 60))),
    );
    expect(found.how).toBe('level');
    expect(found.at_c).toBeCloseTo(80, 2);
    expect(found.after_s).toBeGreaterThanOrEqual(230);
    expect(found.after_s).toBeLessThanOrEqual(260);
  });
  it('rises on', () => {
    const found = outlook(
      time,
      time.map((t) => 20 + t / 10),
    );
    expect(found).toEqual({ how: 'rising', at_c: 80, after_s: 600 });
  });
  it('falls once the pack is empty', () => {
    const found = outlook(
      time,
      time.map((t) => (t <= 200 ? 20 + t / 4 : 70 - (t - 200) / 10)),
    );
    expect(found).toEqual({ how: 'empty', at_c: 70, after_s: 200 });
  });
});

describe('a tub test', () => {
  beforeEach(() => {
    store.clear();
    bodies.length = 0;
    left = 40;
  });

  it('asks for a reading each half minute', async () => {
    const tub = new TubState();
    tub.open(7, 3, {} as SetupDocument);
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
    tub.open(7, 3, {} as SetupDocument);
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
    tub.open(7, 3, {} as SetupDocument);
    tub.start(0);
    tub.tick(30_000);
    tub.read('case', q(40));
    const again = new TubState();
    again.open(7, 3, {} as SetupDocument);
    expect(again.readings).toHaveLength(1);
    expect(again.running).toBe(true);
    again.drop();
    expect(again.readings).toHaveLength(0);
  });
});
