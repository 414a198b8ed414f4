import { describe, expect, it, vi } from 'vitest';

import { frameOf, ShoreState } from './shore.svelte';

const { POST } = vi.hoisted(() => ({ POST: vi.fn() }));
vi.mock('$lib/api/client', async (original) => ({ ...(await original<object>()), api: { POST } }));

describe('a shore', () => {
  it('is asked about from three corners on, to two metres', async () => {
    POST.mockImplementation((_: string, { body }: { body: { corners: number[][] } }) =>
      Promise.resolve({ data: { corners: body.corners, straight: null }, response: new Response() }),
    );
    const shore = new ShoreState();
    shore.add([0.4, 0]);
    shore.add([100.9, 1]);
    expect(POST).not.toHaveBeenCalled();
    shore.add([100, 59]);
    await vi.waitFor(() => expect(shore.seen).toBeDefined());
    expect(POST.mock.calls.at(-1)?.[1].body.corners).toEqual([
      [0, 0],
      [100, 2],
      [100, 60],
    ]);
    shore.move(2, [80, 60]);
    shore.drop(0);
    expect(shore.corners).toEqual([
      [100, 2],
      [80, 60],
    ]);
    expect(shore.seen).toBeUndefined();
  });

  it('is shown whole, and a small one on paper of a pond', () => {
    const [left, bottom, width, height] = frameOf([
      [-50, 0],
      [400, 300],
    ]);
    expect(left).toBeLessThan(-50);
    expect(left + width).toBeGreaterThan(400);
    expect(bottom + height).toBeGreaterThan(300);
    expect(frameOf([])[2]).toBeGreaterThan(160);
  });
});
