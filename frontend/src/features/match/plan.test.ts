import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { SetupDocument, Step } from '$lib/api/client';

import { PlanState } from './plan.svelte';

const { POST } = vi.hoisted(() => ({ POST: vi.fn() }));
vi.mock('$lib/api/client', async (original) => ({
  ...(await original<object>()),
  api: { POST, GET: vi.fn(), PUT: vi.fn() },
}));

const document = {} as SetupDocument;
const tick = () => new Promise((resolve) => setTimeout(resolve, 0));

describe('PlanState', () => {
  beforeEach(() => {
    POST.mockImplementation((path: string) =>
      Promise.resolve({
        data: path === '/api/next' ? [{ text: 'a' }, { text: 'b' }, { text: 'c' }] : { path },
        response: new Response(),
      }),
    );
  });

  it('walks through the steps both ways, round the ends', async () => {
    const plan = new PlanState();
    expect(plan.walk(1)).toBeUndefined();
    plan.askSteps(document);
    await tick();
    const walked = [1, 1, 1, 1, -1].map((by) => plan.walk(by)?.text);
    expect(walked).toEqual(['a', 'b', 'c', 'a', 'c']);
  });

  it('begins at the last when walked backwards first', async () => {
    const plan = new PlanState();
    plan.steps = [{ text: 'a' }, { text: 'b' }] as Step[];
    expect(plan.walk(-1)?.text).toBe('b');
  });

  it('asks with the duty and the schools of the boat', async () => {
    const plan = new PlanState();
    plan.askHeat(document);
    await tick();
    const [, { body }] = POST.mock.calls.at(-1) as [string, { body: Record<string, unknown> }];
    expect(body.duty).toMatchObject({ kind: 'passes', passes: 4 });
    expect(body.schools).toMatchObject({ temperature: 'cautious' });
  });

  it('tells a failure and is ready for the next', async () => {
    POST.mockImplementation(() =>
      Promise.resolve({ error: { detail: 'no' }, response: new Response(null, { status: 500 }) }),
    );
    const plan = new PlanState();
    plan.askSteps(document);
    await tick();
    expect(plan.problem?.message).toBe('no');
    expect(plan.stepsBusy).toBe(false);
  });
});
