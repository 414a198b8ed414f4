import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { Fit, SetupDocument, SetupView } from '$lib/api/client';

const step = (key: string, done = false) => ({ key, title: key, inspect: '', cautions: [], done });
const saved = {
  joints: [],
  clashes: 0,
  build: [step('clean', true), step('motor')],
  swap: [step('motor')],
  first_power: [step('stand')],
} as unknown as Fit;
const tried = { ...saved, clashes: 2, build: [step('clean'), step('motor'), step('flat')] };
let refuse = '';
const ticks: unknown[] = [];
const answer = <T>(data: T): Promise<{ data?: T; error?: unknown; response: Response }> =>
  refuse
    ? Promise.resolve({ error: { detail: refuse }, response: new Response(null, { status: 503 }) })
    : Promise.resolve({ data, response: new Response(null, { status: 200 }) });
vi.mock('$lib/api/client', async (original) => ({
  ...(await original<typeof import('$lib/api/client')>()),
  api: {
    GET: () => answer(saved),
    POST: () => answer(tried),
    PUT: (_: string, { body }: { body: unknown }) => {
      ticks.push(body);
      return answer(undefined);
    },
  },
}));

const { FitState } = await import('./fit.svelte');
const flush = () => new Promise((done) => setTimeout(done, 5));
const [a, b] = [{ name: 'a' }, { name: 'b' }] as unknown as SetupDocument[];

async function loaded() {
  const fit = new FitState();
  await fit.load(4);
  return fit;
}
const setupOf = (document: SetupDocument) => ({ document, boat_id: 3 }) as SetupView;
const done = (fit: { now: Fit | undefined }) => fit.now?.build.filter((s) => s.done).map((s) => s.key);

describe('does it go together', () => {
  beforeEach(() => {
    refuse = '';
    ticks.length = 0;
  });

  it('shows the saved setup, and the draft while one is tried', async () => {
    const fit = await loaded();
    expect(fit.now).toEqual(saved);
    fit.follow(b!, setupOf(a!), true);
    await flush();
    expect(fit.now?.clashes).toBe(2);
    fit.follow(a!, setupOf(a!), false);
    expect(fit.now?.clashes).toBe(0);
  });

  it('keeps what is ticked while a draft is tried', async () => {
    const fit = await loaded();
    fit.follow(b!, setupOf(a!), true);
    await flush();
    expect(done(fit)).toEqual(['clean']);
  });

  it('ticks everywhere a step stands', async () => {
    const fit = await loaded();
    await fit.tick(4, 'motor', true);
    expect(ticks).toEqual([{ key: 'motor', done: true }]);
    expect(done(fit)).toEqual(['clean', 'motor']);
    expect(fit.now?.swap[0]?.done).toBe(true);
    await fit.tick(4, 'motor', false);
    expect(done(fit)).toEqual(['clean']);
  });

  it('takes a tick back that was not kept', async () => {
    const fit = await loaded();
    refuse = 'database away';
    await fit.tick(4, 'motor', true);
    expect(fit.problem?.message).toBe('database away');
    expect(done(fit)).toEqual(['clean']);
    refuse = '';
    await fit.tick(4, 'motor', true);
    expect(fit.problem).toBeUndefined();
    expect(done(fit)).toEqual(['clean', 'motor']);
  });

  it('says when it cannot be asked', async () => {
    refuse = 'there is no setup 4';
    const fit = await loaded();
    expect(fit.now).toBeUndefined();
    expect(fit.problem?.message).toBe('there is no setup 4');
  });
});
