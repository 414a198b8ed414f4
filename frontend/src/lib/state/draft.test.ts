import { beforeEach, describe, expect, it, vi } from 'vitest';

import { Problem, type PartView } from '$lib/api/client';

import { DraftState, putIntoDraft } from '$lib/state/draft.svelte';

const { GET, POST, PUT } = vi.hoisted(() => ({ GET: vi.fn(), POST: vi.fn(), PUT: vi.fn() }));
vi.mock('$lib/api/client', async (original) => ({ ...(await original<object>()), api: { GET, POST, PUT } }));

const setup = { id: 7, boat_id: 1, name: 'x', document: { motor: { kv: { value: 2200, unit: 'rpm/V' } } } };
const kept = new Map<string, string>();
const tick = () => new Promise((resolve) => setTimeout(resolve, 0));
const ok = (data: unknown) => Promise.resolve({ data, response: new Response() });
const refused = (body: object, status = 422) =>
  Promise.resolve({ error: body, response: new Response(null, { status }) });

/** A server whose forecast is the number of changes it was asked for. */
function forecasting(): void {
  POST.mockImplementation((path: string, { body }: { body: { changes?: unknown[] } }) =>
    path === '/api/draft'
      ? ok({ document: { asked: body.changes }, forecast: { n: body.changes?.length }, differences: [], notes: [] })
      : ok({ ...setup, id: 8 }),
  );
}

describe('DraftState', () => {
  beforeEach(() => {
    kept.clear();
    vi.stubGlobal('localStorage', {
      getItem: (k: string) => kept.get(k) ?? null,
      setItem: (k: string, v: string) => kept.set(k, v),
      removeItem: (k: string) => kept.delete(k),
    });
    GET.mockImplementation(() => ok(setup));
    forecasting();
  });

  async function opened(): Promise<DraftState> {
    const state = new DraftState();
    await state.load(7);
    return state;
  }

  it('shows the saved setup as its own ghost until something changes', async () => {
    const state = await opened();
    expect(state.dirty).toBe(false);
    expect(state.now).toBe(state.base);
    state.change('motor.kv', { value: 2000, unit: 'rpm/V' });
    await tick();
    expect(state.dirty).toBe(true);
    expect((state.now?.forecast as unknown as { n: number }).n).toBe(1);
    expect((state.base?.forecast as unknown as { n: number }).n).toBe(0);
  });

  it('asks again what had no answer, until the link is back, and never what was refused', async () => {
    const state = await opened();
    vi.useFakeTimers();
    try {
      let asked = 0;
      POST.mockImplementation(() => {
        asked += 1;
        return Promise.reject(new TypeError('no network'));
      });
      state.change('motor.kv', { value: 2000, unit: 'rpm/V' });
      await vi.advanceTimersByTimeAsync(4000);
      expect(asked).toBeGreaterThan(3);
      expect((state.now?.forecast as unknown as { n: number }).n).toBe(0);
      forecasting();
      await vi.advanceTimersByTimeAsync(2000);
      expect((state.now?.forecast as unknown as { n: number }).n).toBe(1);
      expect(state.problem).toBeUndefined();
      POST.mockClear();
      POST.mockImplementation(() => refused({ detail: 'too many cells' }));
      state.change('pack.cells', 99);
      await vi.advanceTimersByTimeAsync(200);
      const before = POST.mock.calls.length;
      await vi.advanceTimersByTimeAsync(10_000);
      expect(POST.mock.calls.length).toBe(before);
    } finally {
      vi.useRealTimers();
    }
  });

  it('makes one step of undo of one pull, and another of another knob', async () => {
    const state = await opened();
    for (const value of [2190, 2180, 2170]) state.change('motor.kv', { value, unit: 'rpm/V' });
    state.change('pack.cells', 5);
    state.undo();
    expect(Object.keys(state.changes)).toEqual(['motor.kv']);
    state.undo();
    expect(state.dirty).toBe(false);
    expect(state.canUndo).toBe(false);
  });

  it('lets a swapped part take its single changes along', async () => {
    const state = await opened();
    state.change('motor.kv', { value: 1800, unit: 'rpm/V' });
    state.change('pack.cells', 5);
    state.swap({ id: 3, kind: 'motor', name: 'm', document: { kv: 1 } } as unknown as PartView);
    expect(Object.keys(state.changes).sort()).toEqual(['motor', 'pack.cells']);
    expect(state.shelf).toEqual({ motor: 3 });
  });

  it('previews changes in place of what was tried before', async () => {
    const state = await opened();
    state.change('motor.kv', { value: 1800, unit: 'rpm/V' });
    state.previewMany([['propeller', { diameter: 1 }]], { propeller: 12 });
    expect(Object.keys(state.changes)).toEqual(['propeller']);
    expect(state.shelf).toEqual({ propeller: 12 });
    state.undo();
    expect(Object.keys(state.changes)).toEqual(['motor.kv']);
  });

  it('keeps a draft for the next visit, and forgets it when it is thrown away', async () => {
    const state = await opened();
    state.change('pack.cells', 6);
    const again = await opened();
    expect(again.changes).toEqual({ 'pack.cells': 6 });
    again.clear();
    expect((await opened()).dirty).toBe(false);
  });

  it('keeps what was typed when a value is impossible, and says so', async () => {
    const state = await opened();
    POST.mockImplementation(() => refused({ title: 'impossible value', status: 422, detail: 'no', field: 'motor.kv' }));
    state.change('motor.kv', { value: 0, unit: 'rpm/V' });
    await tick();
    expect(state.problem).toBeInstanceOf(Problem);
    expect(state.problem?.field).toBe('motor.kv');
    expect(state.changes['motor.kv']).toEqual({ value: 0, unit: 'rpm/V' });
    expect(await state.adopt()).toBeUndefined();
  });

  it('adopts what is asked for last, and keeps the draft when the save fails', async () => {
    const state = await opened();
    state.change('pack.cells', 5);
    POST.mockImplementation((path: string) =>
      path === '/api/draft'
        ? ok({ document: {}, forecast: {}, differences: [], notes: [] })
        : refused({ title: 'database away', status: 503, detail: 'nothing was saved' }, 503),
    );
    expect(await state.adopt()).toBeUndefined();
    expect(state.problem?.message).toContain('nothing was saved');
    expect(state.dirty).toBe(true);
    forecasting();
    const adopted = await state.adopt();
    expect(adopted?.id).toBe(8);
    expect(kept.has('kunstflug.draft.7')).toBe(false);
  });

  it('never saves what was shown before a change that had no answer', async () => {
    const state = await opened();
    const away = () => refused({ title: 'database away', status: 503, detail: 'nothing was saved' }, 503);
    POST.mockClear();
    POST.mockImplementation(away);
    state.change('pack.cells', 5);
    expect(await state.adopt()).toBeUndefined();
    expect(POST.mock.calls.filter(([path]) => String(path).endsWith('/adopt'))).toEqual([]);
    forecasting(); // it is back
    POST.mockClear();
    expect((await state.adopt())?.id).toBe(8);
    const saved = POST.mock.calls.find(([path]) => String(path).endsWith('/adopt')) as [string, { body: unknown }];
    expect(saved[1].body).toMatchObject({ document: { asked: [{ path: 'pack.cells', value: 5 }] } });
  });

  it('says that the program does not answer', async () => {
    GET.mockImplementation(() => Promise.reject(new TypeError('fetch failed')));
    const state = await opened();
    expect(state.failed?.message).toContain('does not answer');
  });

  it('takes a part that the shelf put in while it was closed', async () => {
    const part = { id: 12, kind: 'motor', document: { name: 'spare' } } as unknown as PartView;
    const state = await opened();
    state.change('motor.kv', { value: 2000, unit: 'rpm/V' });
    state.change('pack.cells', 5);
    putIntoDraft(7, part);
    const again = await opened();
    expect(again.changes).toEqual({ motor: { name: 'spare' }, 'pack.cells': 5 }); // KV went with the old motor
    expect(again.shelf).toEqual({ motor: 12 });
  });
});
