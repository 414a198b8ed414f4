import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { Circuit, SetupDocument } from '$lib/api/client';

import { toasts } from '$lib/state/toasts.svelte';

import { fresh, inserted, without } from './circuit';

const circuit: Circuit = {
  format: 'kunstflug-circuit',
  version: 2,
  lines: [[fresh('pickup'), fresh('hose'), fresh('motor'), fresh('outlet')]],
};
const solvedFor: { circuit: Circuit; document: unknown }[] = [];
let refuse = '';
let tags = 0;
const PUT = vi.fn();
vi.mock('$lib/api/client', async (original) => ({
  ...(await original<typeof import('$lib/api/client')>()),
  ask: <T>(answer: Promise<T>) => answer,
  askTagged: <T>(answer: Promise<T>) => answer.then((data) => ({ data, tag: `tag ${++tags}` })),
  api: {
    GET: () => (refuse ? Promise.reject(new Error(refuse)) : Promise.resolve(circuit)),
    POST: (_: string, { body }: { body: { circuit: Circuit; document: unknown } }) => {
      solvedFor.push(body);
      return refuse
        ? Promise.reject(new Error(refuse))
        : Promise.resolve({ circuit: body.circuit, motor_l_min: [0, 4], cases: [] });
    },
    PUT: (...words: unknown[]) => {
      PUT(...words);
      return refuse ? Promise.reject(new Error(refuse)) : Promise.resolve(circuit);
    },
  },
}));

const { WaterState } = await import('./water.svelte');
const flush = () => new Promise((done) => setTimeout(done, 5));
const setup = { name: 'one' } as unknown as SetupDocument;

async function drawn() {
  const water = new WaterState();
  await water.load(3, setup);
  await flush();
  return water;
}

describe('the water circuit on the sheet', () => {
  beforeEach(() => {
    solvedFor.length = 0;
    refuse = '';
    PUT.mockClear();
  });

  it('comes from the boat and is solved at once', async () => {
    const water = await drawn();
    expect(water.drawn).toBe(circuit);
    expect(water.dirty).toBe(false);
    expect(water.solved?.motor_l_min).toEqual([0, 4]);
    expect(solvedFor).toHaveLength(1);
  });

  it('is solved with each change, and undone change by change', async () => {
    const water = await drawn();
    const longer = inserted(circuit, [0, 1], 'hose');
    water.draw(longer);
    await flush();
    water.draw(without(longer, [0, 3]));
    await flush();
    expect(solvedFor).toHaveLength(3);
    expect(water.dirty).toBe(true);
    water.undo();
    expect(water.drawn).toBe(longer);
    water.undo();
    expect(water.drawn).toBe(circuit);
    expect(water.canUndo).toBe(false);
    expect(water.dirty).toBe(false);
    water.undo();
    expect(water.drawn).toBe(circuit);
  });

  it('does not count the same drawing as a change', async () => {
    const water = await drawn();
    water.draw(circuit);
    expect(water.canUndo).toBe(false);
  });

  it('follows another setup with the same water', async () => {
    const water = await drawn();
    water.follow({ name: 'two' } as unknown as SetupDocument);
    await flush();
    expect(solvedFor.at(-1)?.document).toEqual({ name: 'two' });
    expect(solvedFor.at(-1)?.circuit).toEqual(circuit);
  });

  it('is kept only when said so', async () => {
    const water = await drawn();
    water.draw(inserted(circuit, [0, 1], 'hose'));
    expect(PUT).not.toHaveBeenCalled();
    await water.keep(3);
    expect(PUT).toHaveBeenCalledOnce();
    expect(water.dirty).toBe(false);
    await toasts.shown.at(-1)?.undo?.();
    expect(water.drawn).toBe(circuit);
    expect(PUT).toHaveBeenCalledTimes(2);
    const sent = PUT.mock.calls.map(([, { params }]) => params.header['If-Match'] as string);
    expect(new Set(sent).size).toBe(2); // the second changes what the first had saved
  });

  it('says what went wrong and keeps what is drawn', async () => {
    const water = await drawn();
    refuse = 'a line begins with a pickup';
    const other = inserted(circuit, [0, 1], 'hose');
    water.draw(other);
    await flush();
    expect(water.problem?.message).toBe(refuse);
    expect(water.drawn).toBe(other);
    await water.keep(3);
    expect(water.dirty).toBe(true);
    refuse = '';
    water.undo();
    await flush();
    expect(water.problem).toBeUndefined();
  });

  it('stays empty where the boat cannot be reached', async () => {
    refuse = 'database away';
    const water = await drawn();
    expect(water.drawn).toBeUndefined();
    expect(water.problem?.message).toBe('database away');
    water.draw(circuit);
    expect(water.drawn).toBeUndefined();
  });
});
