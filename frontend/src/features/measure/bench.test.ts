import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { Finder, Instrument, ShelfPart } from '$lib/api/client';

const reading = (key: string, usual: number, unit = '1') => ({ key, label: key, usual, unit });
const instruments = [
  {
    key: 'kv',
    title: 'KV on a drill',
    readings: [reading('rpm', 1500), reading('volts', 0.48)],
    writes: ['motor.kv'],
    unit: 'rpm/V',
  },
  {
    key: 'cell',
    title: 'Cell',
    readings: [reading('drop', 0.2e-3, 'mohm')],
    writes: ['pack.cell_resistance'],
    unit: 'mohm',
  },
] as unknown as Instrument[];
const finders = [
  { key: 'wire', title: 'Wire', readings: [reading('air', 25, 'degC')], nothing: 'none' },
] as unknown as Finder[];
const parts = [
  { id: 1, kind: 'motor', name: 'spare' },
  { id: 2, kind: 'pack', name: 'tired' },
] as unknown as ShelfPart[];
const posted: [string, unknown][] = [];
let refuse = '';
vi.mock('$lib/api/client', async (original) => ({
  ...(await original<typeof import('$lib/api/client')>()),
  ask: <T>(answer: Promise<T>) => answer,
  api: {
    GET: (path: string) =>
      refuse
        ? Promise.reject(new Error(refuse))
        : Promise.resolve(
            path.endsWith('instruments')
              ? instruments
              : path.endsWith('finders')
                ? finders
                : { items: parts, next: null },
          ),
    POST: (path: string, request: { params: { path: Record<string, unknown> }; body: unknown }) => {
      posted.push([path, { ...request.params.path, ...(request.body as object) }]);
      if (refuse) return Promise.reject(new Error(refuse));
      return Promise.resolve(
        path.includes('finders') ? [{ words: 'AWG 8: holds' }] : { value: 2210, sd: 25, widest: 'volts' },
      );
    },
  },
}));

const { BenchState } = await import('./measure.svelte');
const flush = () => new Promise((done) => setTimeout(done, 5));
async function opened() {
  const bench = new BenchState();
  await bench.load();
  await flush();
  return bench;
}

describe('an instrument in use', () => {
  beforeEach(() => {
    posted.length = 0;
    refuse = '';
  });

  it('works with its usual readings at once', async () => {
    const bench = await opened();
    expect(bench.typed).toEqual({ rpm: '1500', volts: '0.48' });
    expect(posted).toEqual([['/api/instruments/{key}', { key: 'kv', readings: { rpm: 1500, volts: 0.48 } }]]);
    expect(bench.result?.value).toBe(2210);
  });

  it('takes a comma, and waits while a reading is no number', async () => {
    const bench = await opened();
    bench.read('volts', '0,5');
    await flush();
    expect(posted.at(-1)?.[1]).toMatchObject({ readings: { volts: 0.5 } });
    const before = posted.length;
    for (const text of ['', ' ', 'a lot', '0.5.1']) bench.read('volts', text);
    await flush();
    expect(posted).toHaveLength(before);
    expect(bench.si).toBeUndefined();
  });

  it('sends the core’s units', async () => {
    const bench = await opened();
    bench.use('cell');
    expect(bench.typed).toEqual({ drop: '0.2' });
    bench.read('drop', '0.15');
    await flush();
    expect(posted.at(-1)?.[1]).toEqual({ key: 'cell', readings: { drop: 0.15e-3 } });
  });

  it('offers only parts that can take the result, and writes it with its deviation', async () => {
    const bench = await opened();
    expect(bench.takers.map((p) => p.id)).toEqual([1]);
    await bench.write(2);
    expect(posted).toHaveLength(1);
    await bench.write(1);
    expect(posted.at(-1)).toEqual([
      '/api/parts/{part_id}/measured',
      { part_id: 1, path: 'motor.kv', value: 2210, sd: 25 },
    ]);
    expect(bench.written).toContain('spare');
    bench.read('rpm', '1600');
    expect(bench.written).toBe('');
  });

  it('finds', async () => {
    const bench = await opened();
    bench.use('find-wire');
    await flush();
    expect(posted.at(-1)).toEqual(['/api/finders/{key}', { key: 'wire', readings: { air: 25 } }]);
    expect(bench.found?.[0]?.words).toBe('AWG 8: holds');
    expect(bench.result).toBeUndefined();
  });

  it('shows no old result beside a refusal', async () => {
    const bench = await opened();
    refuse = 'rpm: 0 to 100 000';
    bench.read('rpm', '9e9');
    await flush();
    expect(bench.problem?.message).toBe(refuse);
    expect(bench.result).toBeUndefined();
  });

  it('can be tried again when nothing answers', async () => {
    refuse = 'no answer';
    const bench = await opened();
    expect(bench.problem?.message).toBe('no answer');
    refuse = '';
    await bench.load();
    await flush();
    expect(bench.problem).toBeUndefined();
    expect(bench.result?.value).toBe(2210);
  });
});
