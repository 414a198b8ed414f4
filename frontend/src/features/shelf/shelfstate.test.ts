import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { SetupDocument, ShelfPart } from '$lib/api/client';

const parts = [
  {
    id: 1,
    kind: 'motor',
    name: 'a',
    pieces: 1,
    boats: [],
    record: {},
    document: {},
    state: 'in use',
    due: '',
    tag: 't',
  },
];
const ANSWERS: Record<string, unknown> = {
  '/api/parts/compared': [{ part_id: 1 }],
  '/api/parts': { items: parts, next: null },
  '/api/parts/{part_id}': { tag: 'u', name: 'a' },
};
const called: [string, string, unknown][] = [];
let refuse = '';
const answer =
  (verb: string) =>
  (path: string, request: { body?: unknown; params?: unknown } = {}) => {
    called.push([verb, path, request.body]);
    return Promise.resolve(
      refuse
        ? { error: { detail: refuse }, response: new Response(null, { status: 422 }) }
        : { data: ANSWERS[path] ?? parts, response: new Response(null, { status: 200 }) },
    );
  };
vi.mock('$lib/api/client', async (original) => ({
  ...(await original<typeof import('$lib/api/client')>()),
  api: { GET: answer('GET'), POST: answer('POST'), PATCH: answer('PATCH'), DELETE: answer('DELETE') },
}));

const { ShelfState } = await import('./shelf.svelte');
const verbs = () => called.map(([verb, path]) => `${verb} ${path}`);

describe('the shelf and its server', () => {
  beforeEach(() => {
    called.length = 0;
    refuse = '';
  });

  it('loads, and says when it cannot', async () => {
    const shelf = new ShelfState();
    await shelf.load();
    expect(shelf.phase).toBe('ready');
    expect(shelf.parts as unknown as ShelfPart[]).toEqual(parts);
    refuse = 'database away';
    await shelf.load();
    expect(shelf.phase).toBe('failed');
    expect(shelf.problem?.message).toBe('database away');
  });

  it.each([
    [
      'change',
      (s: InstanceType<typeof ShelfState>) => s.change(parts[0] as unknown as ShelfPart, { price: 4 }),
      'PATCH /api/parts/{part_id}',
    ],
    ['note', (s: InstanceType<typeof ShelfState>) => s.event(1, 'died', 'smoke'), 'POST /api/parts/{part_id}/events'],
    ['add', (s: InstanceType<typeof ShelfState>) => s.add('hose', { name: 'x' }), 'POST /api/parts'],
    ['remove', (s: InstanceType<typeof ShelfState>) => s.remove(1), 'DELETE /api/parts/{part_id}'],
    ['import', (s: InstanceType<typeof ShelfState>) => s.importCsv(new File([''], 'a.csv')), 'POST /api/parts.csv'],
  ])('after a %s it shows what is there now', async (_, act, call) => {
    const shelf = new ShelfState();
    expect(await act(shelf)).toBe(true);
    expect(verbs()[0]).toBe(call);
    expect(verbs().slice(1)).toContain('GET /api/parts');
    refuse = 'not so';
    called.length = 0;
    expect(await act(shelf)).toBe(false);
    expect(shelf.problem?.message).toBe('not so');
    expect(verbs()).toEqual([call]); // nothing is loaded anew where nothing was done
  });

  it('compares what is picked in the boat', async () => {
    const shelf = new ShelfState();
    shelf.pick(1);
    await shelf.compare({ name: 'boat' } as unknown as SetupDocument, 5);
    expect(verbs()).toEqual(['POST /api/parts/compared']);
    expect(called.at(-1)?.[2]).toMatchObject({ parts: [1], document: { name: 'boat' } });
    expect(shelf.candidates).toHaveLength(1);
    expect(shelf.comparing).toBe(false);
    refuse = 'at most six';
    await shelf.compare({} as SetupDocument, 5);
    expect(shelf.problem?.message).toBe('at most six');
    expect(shelf.comparing).toBe(false);
  });
});
