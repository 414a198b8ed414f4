import { beforeEach, describe, expect, it, vi } from 'vitest';

import { link } from '$lib/offline/link.svelte';
import { conflict } from '$lib/state/conflict.svelte';

import { RunState } from './run.svelte';

const { GET, POST, PUT } = vi.hoisted(() => ({ GET: vi.fn(), POST: vi.fn(), PUT: vi.fn() }));
vi.mock('$lib/api/client', async (original) => ({ ...(await original<object>()), api: { GET, POST, PUT } }));

const ok = (data: unknown) => Promise.resolve({ data, response: new Response() });
const run = (id: number, setup_id = 7) => ({
  id,
  setup_id,
  conditions: {},
  note: '',
  observations: [],
  readings: [],
  tag: `tag ${id}`,
});
const setup = { id: 7, boat_id: 1, document: {} };
const kept = new Map<string, string>();
let older: string | null = null;
let extra: object[] = [];

async function opened(runs: object[]): Promise<RunState> {
  GET.mockImplementation((path: string, { params }: { params?: { path: { run_id: number } } } = {}) =>
    ok(
      path.endsWith('/runs')
        ? { items: runs, next: older }
        : path.endsWith('/track')
          ? { time_s: [] }
          : path.startsWith('/api/runs/')
            ? [...runs, ...extra].find((r) => (r as { id: number }).id === params?.path.run_id)
            : setup,
    ),
  );
  POST.mockImplementation(() => ok({ runs: true }));
  const state = new RunState(
    () => ['pack'],
    () => 'metric',
  );
  await state.load(7);
  return state;
}

describe('RunState', () => {
  beforeEach(() => {
    kept.clear();
    older = null;
    extra = [run(5)];
    vi.stubGlobal('localStorage', {
      getItem: (k: string) => kept.get(k) ?? null,
      setItem: (k: string, v: string) => kept.set(k, v),
      removeItem: (k: string) => kept.delete(k),
    });
  });

  it('opens the newest run of this setup, else the newest of the boat', async () => {
    expect((await opened([run(3, 9), run(2, 7)])).run?.id).toBe(2);
    expect((await opened([run(3, 9)])).run?.id).toBe(3);
    expect((await opened([])).run).toBeUndefined();
  });

  it('offers a damaged file and takes it only when asked', async () => {
    const state = await opened([]);
    const partly = { title: 'partly readable', status: 422, detail: 'x', line: 9, readable: 40 };
    POST.mockReset();
    POST.mockResolvedValueOnce({ error: partly, response: new Response(null, { status: 422 }) });
    const file = new File(['x'], 'a.gpx');
    await state.take(file);
    expect(state.offer?.problem.readable).toBe(40);
    expect(state.runs).toHaveLength(0);
    POST.mockImplementationOnce(() => ok(run(5)));
    await state.take(file, { acceptDamage: true });
    expect(POST.mock.calls.at(-1)?.[1].body).toMatchObject({ file, accept_damage: true });
    expect(state.run?.id).toBe(5);
    expect(state.offer).toBeUndefined();
  });

  const column = (role: string | null, unit = '', sure = true) => ({ heading: '', role, unit, sure, plot: [] });
  const look = (kind: string | null, sure: boolean) => ({ kind, sure, columns: [column('time', 's'), column(null)] });

  it('sends a log to the run on the sheet, and wants one', async () => {
    const none = await opened([]);
    POST.mockImplementationOnce(() => ok(look('log', true)));
    await none.take(new File(['x'], 'log.csv'));
    expect(none.problem?.message).toContain('take in its track first');
    const state = await opened([run(4)]);
    POST.mockImplementationOnce(() => ok(look('log', true))).mockImplementationOnce(() => ok(run(4)));
    await state.take(new File(['x'], 'log.CSV'));
    expect(POST.mock.calls.at(-1)?.[0]).toBe('/api/runs/{run_id}/controller-log');
    expect(POST.mock.calls.at(-1)?.[1].params.path).toEqual({ run_id: 4 });
    expect(JSON.parse(POST.mock.calls.at(-1)?.[1].body.mapping)).toEqual({
      kind: 'log',
      columns: [{ column: 0, role: 'time', unit: 's' }],
    });
  });

  it('asks about columns that are not sure, and about which of several tracks', async () => {
    const state = await opened([run(4)]);
    POST.mockImplementationOnce(() => ok(look(null, false)));
    const file = new File(['x'], 'odd.csv');
    await state.take(file);
    expect(state.looked?.file).toBe(file);
    POST.mockImplementationOnce(() => ok(run(5)));
    await state.take(file, { mapping: { kind: 'track', columns: [] } });
    expect(POST.mock.calls.at(-1)?.[0]).toBe('/api/setups/{setup_id}/runs');
    expect(state.looked).toBeUndefined();
    const tracks = [{ name: 'a', samples: 9, seconds: 9, started_at: null }];
    const several = { detail: 'there are 2 tracks in it', tracks };
    POST.mockResolvedValueOnce({ error: several, response: new Response(null, { status: 422 }) });
    await state.take(new File(['x'], 'two.gpx'));
    expect(state.offer?.problem.tracks).toHaveLength(1);
    POST.mockImplementationOnce(() => ok(run(5)));
    await state.take(file, { track: 1, mapping: { kind: 'track', columns: [] } });
    expect(POST.mock.calls.at(-1)?.[1].body.track).toBe(1);
  });

  it('looks at a text that is no track as at a table', async () => {
    const state = await opened([run(4)]);
    const unknown = { detail: 'line 1: not GPX, NMEA 0183' };
    POST.mockResolvedValueOnce({ error: unknown, response: new Response(null, { status: 422 }) });
    POST.mockImplementationOnce(() => ok(look('log', false)));
    await state.take(new File(['x'], 'strange.txt'));
    expect(state.looked?.look.kind).toBe('log');
  });

  it('keeps notes until they are saved, also when the save fails', async () => {
    const state = await opened([run(4)]);
    state.notes!.note = 'evening';
    expect(state.unsaved).toBe(false);
    state.touched();
    expect(state.unsaved).toBe(true);
    PUT.mockImplementation(() =>
      Promise.resolve({ error: { detail: 'database away' }, response: new Response(null, { status: 503 }) }),
    );
    await state.save();
    expect(state.problem?.message).toBe('database away');
    expect((await opened([run(4)])).notes?.note).toBe('evening');
    PUT.mockImplementation(() => ok({ ...run(4), note: 'evening' }));
    await state.save();
    expect(state.saved).toBe(true);
    expect(state.unsaved).toBe(false);
    expect(kept.has('kunstflug.notes.4')).toBe(false);
  });

  it('asks for older runs only when told to', async () => {
    older = 'here';
    const state = await opened([run(4)]);
    expect(state.older).toBe('here');
    older = null;
    await state.more();
    expect(state.runs).toHaveLength(2);
    expect(state.older).toBeUndefined();
    GET.mockClear();
    await state.more();
    expect(GET).not.toHaveBeenCalled();
  });

  it.each([
    ['mine', 'evening', 2],
    ['theirs', 'noon', 1],
  ] as const)('lets the racer choose where two wrote: %s', async (choice, note, puts) => {
    const state = await opened([run(4)]);
    state.notes!.note = 'evening';
    state.touched();
    const theirs = { conditions: {}, note: 'noon', observations: [], readings: [], typed: {} };
    PUT.mockReset();
    PUT.mockImplementationOnce(() =>
      Promise.resolve({
        error: { status: 412, current: theirs, tag: 'other' },
        response: new Response(null, { status: 412 }),
      }),
    );
    PUT.mockImplementation((_: string, { body }: { body: object }) => ok({ ...run(4), ...body }));
    const saving = state.save();
    await vi.waitFor(() => expect(conflict.question).toBeDefined());
    expect(conflict.question?.differences).toEqual([{ name: 'note', mine: 'evening', theirs: 'noon' }]);
    GET.mockImplementation(() => ok({ ...run(4), note: 'noon' }));
    conflict.question?.answer(choice);
    await saving;
    expect(PUT).toHaveBeenCalledTimes(puts);
    expect(PUT.mock.calls.at(-1)?.[1].params.header['If-Match']).toBe(choice === 'mine' ? 'other' : 'tag 4');
    expect(state.notes?.note).toBe(note);
    expect(kept.has('kunstflug.notes.4')).toBe(false);
  });

  it('can undo what was saved', async () => {
    const state = await opened([{ ...run(4), note: 'first' }]);
    PUT.mockReset();
    PUT.mockImplementation((_: string, { body }: { body: object }) => ok({ ...run(4), ...body }));
    state.notes!.note = 'second';
    await state.save();
    expect(state.notes?.note).toBe('second');
    expect(state.canUndo).toBe(true);
    await state.undo();
    expect(state.notes?.note).toBe('first');
  });

  it('keeps what is typed on while it is being saved', async () => {
    const state = await opened([run(4)]);
    PUT.mockReset();
    state.notes!.typed.peaks[0]!.speed = '78,4';
    PUT.mockImplementationOnce((_: string, { body }: { body: object }) => {
      state.notes!.typed.second = '76';
      state.touched();
      return ok({ ...run(4), ...body, tag: 'next' });
    });
    await state.save();
    expect(PUT.mock.calls[0]?.[1].body.typed).toEqual({
      peaks: [{ speed: { value: 78.4, unit: 'km/h', source: 'measured' }, instrument: undefined }],
    });
    expect(state.notes?.typed.second).toBe('76');
    expect(state.unsaved).toBe(true);
    PUT.mockImplementation((_: string, { body }: { body: object }) => ok({ ...run(4), ...body }));
    await state.save();
    expect(PUT.mock.calls.at(-1)?.[1].params.header['If-Match']).toBe('next');
    expect(PUT.mock.calls.at(-1)?.[1].body.typed.second).toMatchObject({ value: 76 });
    expect(state.saved).toBe(true);
  });

  it('shows what was typed in the unit it was typed in', async () => {
    const typed = {
      peaks: [{ speed: { value: 48.5, unit: 'mph', source: 'measured' }, instrument: 'the old one' }],
      second: { value: 47, unit: 'mph', source: 'measured' },
      rest_v: [3.81, 3.8],
      passes: 5,
      minutes: 4.5,
      damage: ['nicked blade'],
    };
    const state = await opened([{ ...run(4), typed }]);
    expect(state.notes?.typed).toMatchObject({
      unit: 'mph',
      peaks: [{ speed: '48.5', instrument: 'the old one' }],
      second: '47',
      passes: '5',
      minutes: '4.5',
      cells: '3.81 3.8',
      damage: 'nicked blade',
    });
  });

  it('makes a run to be typed in, and puts away the one on the sheet first', async () => {
    const state = await opened([run(4)]);
    PUT.mockReset();
    PUT.mockImplementation((_: string, { body }: { body: object }) => ok({ ...run(4), ...body }));
    state.notes!.note = 'evening';
    state.touched();
    const fetched = vi.fn(async () => new Response(JSON.stringify(run(5)), { status: 201 }));
    vi.stubGlobal('fetch', fetched);
    await state.typeIn();
    expect(PUT.mock.calls.at(-1)?.[1].params.path.run_id).toBe(4);
    expect(PUT.mock.calls.at(-1)?.[1].body.note).toBe('evening');
    expect(state.fresh).toBe(5);
    expect(fetched.mock.calls.at(-1)).toMatchObject(['/api/setups/7/runs/typed', { method: 'POST' }]);
    expect(state.run?.id).toBe(5);
  });

  it('types a run in without network, and its notes go in after it', async () => {
    const state = await opened([run(4)]);
    const asked: [string, RequestInit][] = [];
    let network = false;
    vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
      if (!network) throw new TypeError('no network');
      if (path === '/api/health') return new Response('{}');
      asked.push([path, init]);
      return new Response(JSON.stringify({ ...run(6), tag: 'first' }), { status: 201 });
    });
    await state.typeIn();
    const local = state.run?.id ?? 0;
    expect(local).toBeLessThan(0);
    expect(state.runs[0]?.id).toBe(local);
    state.notes!.note = 'on the phone';
    state.touched();
    await state.save();
    state.notes!.note = 'on the phone, later';
    state.touched();
    await state.save();
    expect([state.later, state.unsaved]).toEqual([true, false]);
    // A reload finds it again.
    const again = await opened([run(4)]);
    expect(again.run?.id).toBe(local);
    expect(again.notes?.note).toBe('on the phone, later');
    network = true;
    extra = [run(6)];
    await link.flush();
    expect(asked.map(([path]) => path)).toEqual(['/api/setups/7/runs/typed', '/api/runs/6/notes']);
    expect(JSON.parse(String(asked[0]?.[1].body))).toMatchObject({ started_at: expect.stringMatching(/^20/) });
    expect(JSON.parse(String(asked[1]?.[1].body)).note).toBe('on the phone, later');
    expect((asked[1]?.[1].headers as Record<string, string>)['If-Match']).toBe('first');
    await again.delivered();
    expect(again.run?.id).toBe(4);
  });

  it('does not send what is no number', async () => {
    const state = await opened([run(4)]);
    PUT.mockClear();
    state.notes!.readings[0]!.value = 'hot';
    await state.save();
    expect(state.problem?.message).toContain("pack 'hot'");
    expect(PUT).not.toHaveBeenCalled();
  });
});
