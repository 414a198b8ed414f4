/** A long answer: one line of JSON for each report of the work. Aborting it stops the work. */
import { Problem, shareHeader } from '$lib/api/client';
import { knowing } from '$lib/state/knowing.svelte';

export async function* lines<T>(path: string, body: unknown, signal?: AbortSignal): AsyncGenerator<T> {
  const form = body instanceof FormData;
  const response = await fetch(path, {
    method: 'POST',
    headers: { Lessons: knowing.lessons, ...shareHeader(), ...(form ? {} : { 'content-type': 'application/json' }) },
    body: form ? body : JSON.stringify(body),
    signal,
  });
  if (!response.ok || !response.body) {
    const problem = (await response.json().catch(() => ({}))) as Record<string, unknown>;
    throw new Problem({ status: response.status, detail: response.statusText, ...problem });
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    const parts = (rest + value).split('\n');
    rest = parts.pop() ?? '';
    for (const part of parts) if (part) yield JSON.parse(part) as T;
  }
}
