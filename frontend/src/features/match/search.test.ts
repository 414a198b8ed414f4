import { afterEach, describe, expect, it, vi } from 'vitest';

import type { SetupDocument } from '$lib/api/client';

import { SearchState } from './search.svelte';

const encoder = new TextEncoder();
let push: (line: object | string) => void = () => undefined;
let finish: () => void = () => undefined;
let sent: AbortSignal | undefined;

/** A server that answers line by line, when the test says so. */
function answering(status = 200): void {
  vi.stubGlobal('fetch', (_: string, { signal }: { signal: AbortSignal }) => {
    sent = signal;
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        push = (line) =>
          controller.enqueue(encoder.encode(typeof line === 'string' ? line : `${JSON.stringify(line)}\n`));
        finish = () => controller.close();
        signal.addEventListener('abort', () => controller.error(new DOMException('aborted', 'AbortError')));
      },
    });
    return Promise.resolve(
      status === 200 ? new Response(body) : new Response(JSON.stringify({ detail: 'too many' }), { status }),
    );
  });
}
const turn = () => new Promise((done) => setTimeout(done, 0));
const line = (state: string, done: number, result: object | null = null) => ({
  state,
  done,
  total: 4,
  problem: '',
  result,
});

afterEach(() => vi.unstubAllGlobals());

describe('a large search', () => {
  it('is watched line by line until it is done', async () => {
    answering();
    const search = new SearchState();
    const running = search.start({} as SetupDocument, 3);
    await turn();
    expect(search.busy).toBe(true);
    push(line('running', 2));
    await turn();
    expect(search.part).toBe(0.5);
    const last = JSON.stringify(line('done', 4, { tried: 9 }));
    push(last.slice(0, 20)); // a line may come in pieces
    await turn();
    expect(search.part).toBe(0.5);
    push(`${last.slice(20)}\n`);
    finish();
    await running;
    expect(search.busy).toBe(false);
    expect(search.progress?.result?.tried).toBe(9);
    expect(search.problem).toBeUndefined();
  });

  it('closes the answer when it is stopped', async () => {
    answering();
    const search = new SearchState();
    search.stop(); // nothing to stop yet
    const running = search.start({} as SetupDocument, 3);
    await turn();
    search.stop();
    await running;
    expect(sent?.aborted).toBe(true);
    expect(search.stopped).toBe(true);
    expect(search.problem).toBeUndefined();
  });

  it('says what the server refused, and when an answer breaks off', async () => {
    answering(422);
    const refused = new SearchState();
    await refused.start({} as SetupDocument, 3);
    expect(refused.problem?.message).toBe('too many');
    answering();
    const broken = new SearchState();
    const running = broken.start({} as SetupDocument, 3);
    await turn();
    push(line('running', 1));
    finish();
    await running;
    expect(broken.problem?.message).toContain('broke off');
  });
});
