import { beforeEach, describe, expect, it, vi } from 'vitest';

const { GET } = vi.hoisted(() => ({ GET: vi.fn() }));
vi.mock('$lib/api/client', async (original) => ({ ...(await original<object>()), api: { GET } }));
const { CompareState } = await import('./compare.svelte');

const ok = (data: unknown) => Promise.resolve({ data, response: new Response() });
const runs = (...ids: number[]) => ids.map((run_id) => ({ run_id }));
const setup = (setup_id: number, ...ids: number[]) => ({ setup_id, runs: runs(...ids), runs_in_all: 9 });
type Asked = { params: { query?: { before?: string } } };

describe('the trail', () => {
  beforeEach(() => {
    GET.mockReset();
    GET.mockImplementation((path: string, { params }: Asked) => {
      if (path.endsWith('/trail'))
        return ok(
          params.query?.before
            ? { boat_id: 1, setups: [setup(1)], older: null }
            : { boat_id: 1, setups: [setup(2, 8, 9)], older: 'before 2' },
        );
      if (path.endsWith('/compared'))
        return ok(
          params.query?.before ? { items: runs(5), next: null } : { items: runs(9, 8, 7, 6), next: 'before 6' },
        );
      return ok({ boat_id: 1 });
    });
  });

  it('shows older setups before the newer ones', async () => {
    const compare = new CompareState();
    expect(await compare.load(2)).toBe(1);
    await compare.olderSetups();
    expect(compare.trail?.setups.map((s) => s.setup_id)).toEqual([1, 2]);
    expect(compare.trail?.older).toBeNull();
    GET.mockClear();
    await compare.olderSetups();
    expect(GET).not.toHaveBeenCalled();
  });

  it('shows older runs page by page, none of them twice', async () => {
    const compare = new CompareState();
    await compare.load(2);
    await compare.olderRuns(2);
    expect(compare.trail?.setups[0]?.runs.map((r) => r.run_id)).toEqual([6, 7, 8, 9]);
    await compare.olderRuns(2);
    expect(compare.trail?.setups[0]?.runs.map((r) => r.run_id)).toEqual([5, 6, 7, 8, 9]);
  });

  it('says what went wrong and keeps what is shown', async () => {
    const compare = new CompareState();
    await compare.load(2);
    GET.mockImplementation(() =>
      Promise.resolve({ error: { detail: 'database away' }, response: new Response(null, { status: 503 }) }),
    );
    await compare.olderRuns(2);
    await compare.olderSetups();
    expect(compare.problem?.message).toBe('database away');
    expect(compare.trail?.setups).toHaveLength(1);
    await compare.load(2);
    expect(compare.failed?.message).toBe('database away');
  });
});
