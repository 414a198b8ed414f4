import { beforeEach, describe, expect, it, vi } from 'vitest';

import { aim, SCHOOLS } from './aim.svelte';

const { GET, PUT } = vi.hoisted(() => ({ GET: vi.fn(), PUT: vi.fn() }));
vi.mock('$lib/api/client', async (original) => ({ ...(await original<object>()), api: { GET, PUT, POST: vi.fn() } }));

const ok = (data: unknown) => Promise.resolve({ data, response: new Response() });

describe('aim', () => {
  beforeEach(() => {
    aim.boatId = undefined;
    PUT.mockImplementation(() => ok({}));
  });

  it('takes over what was said of a boat, and the usual for the rest', async () => {
    GET.mockImplementation(() =>
      ok({ wanted: { value: 90, unit: 'km/h' }, schools: { temperature: 'hot' }, duty: { kind: 'lap_race' } }),
    );
    await aim.load(4);
    expect(aim.stated).toBe(true);
    expect(aim.schools).toEqual({
      temperature: 'hot',
      controller: 'sustained',
      rpm: 'low',
      pack: 'doubting',
      risk: 0.1,
    });
    expect(aim.duty).toMatchObject({ kind: 'lap_race', pass_s: 6 });
    await aim.load(4);
    expect(GET).toHaveBeenCalledTimes(1);
  });

  it('clears the wish when the next boat has none', async () => {
    GET.mockImplementation(() => ok({}));
    await aim.load(5);
    expect(aim.stated).toBe(false);
    expect(aim.locked).toEqual([]);
  });

  it('keeps what was said when it cannot be saved, and tells', async () => {
    GET.mockImplementation(() => ok({}));
    await aim.load(6);
    aim.leastMinutes = 3;
    PUT.mockImplementation(() =>
      Promise.resolve({ error: { detail: 'database away' }, response: new Response(null, { status: 503 }) }),
    );
    await aim.save();
    expect(aim.problem).toBe('database away');
    expect(aim.leastMinutes).toBe(3);
  });

  it('offers a choice for each question', () => {
    for (const school of SCHOOLS) expect(school.options.length).toBeGreaterThan(1);
  });
});
