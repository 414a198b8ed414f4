import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { NextChanges, SetupDocument } from '$lib/api/client';

import { PlanState } from './plan.svelte';

const { POST } = vi.hoisted(() => ({ POST: vi.fn() }));
vi.mock('$lib/api/client', async (original) => ({
  ...(await original<object>()),
  api: { POST, GET: vi.fn(), PUT: vi.fn() },
}));

const document = {} as SetupDocument;
const next = (texts: string[]) =>
  ({
    wanted: 'within',
    said: { within: 'Back first.' },
    steps: texts.map((text, k) => ({ text, verdict: k ? 'holds' : 'short', place: { within: k, faster: -k } })),
  }) as unknown as NextChanges;
const tick = () => new Promise((resolve) => setTimeout(resolve, 0));

describe('PlanState', () => {
  beforeEach(() => {
    POST.mockImplementation((path: string) =>
      Promise.resolve({
        data: path === '/api/next' ? next(['a', 'b', 'c']) : { path },
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

  it('orders by what is wanted, and shows only what holds where asked to', async () => {
    const plan = new PlanState();
    plan.askSteps(document);
    await tick();
    expect([plan.intent, plan.said]).toEqual(['within', 'Back first.']);
    plan.want('faster');
    expect(plan.steps.map((s) => s.text)).toEqual(['c', 'b', 'a']);
    plan.holdingOnly = true;
    expect(plan.steps.map((s) => s.text)).toEqual(['c', 'b']);
    plan.want(undefined);
    expect(plan.intent).toBe('within');
  });

  it('begins at the last when walked backwards first', async () => {
    const plan = new PlanState();
    plan.next = next(['a', 'b']);
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
