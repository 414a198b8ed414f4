/** Takes things out, with a way back. */
import { api, ask, type BinnedView } from '$lib/api/client';
import { toasts } from '$lib/state/toasts.svelte';

export type BinKind = 'boat' | 'setup' | 'run' | 'part' | 'tub-test' | 'controller-log';

const PUT_IN: Record<BinKind, (id: number) => Promise<BinnedView>> = {
  boat: (id) => ask(api.DELETE('/api/boats/{boat_id}', { params: { path: { boat_id: id } } })),
  setup: (id) => ask(api.DELETE('/api/setups/{setup_id}', { params: { path: { setup_id: id } } })),
  run: (id) => ask(api.DELETE('/api/runs/{run_id}', { params: { path: { run_id: id } } })),
  part: (id) => ask(api.DELETE('/api/parts/{part_id}', { params: { path: { part_id: id } } })),
  'tub-test': (id) => ask(api.DELETE('/api/tub-tests/{test_id}', { params: { path: { test_id: id } } })),
  'controller-log': (id) => ask(api.DELETE('/api/runs/{run_id}/controller-log', { params: { path: { run_id: id } } })),
};

/** Moves something to the bin and offers to undo that; `changed` runs after either. */
export async function moveToBin(kind: BinKind, id: number, changed: () => Promise<void> | void): Promise<void> {
  const binned = await PUT_IN[kind](id);
  await changed();
  toasts.say(`Moved to the bin: ${binned.name}`, async () => {
    await restore(kind, id);
    await changed();
  });
}

export function restore(kind: BinKind, id: number): Promise<BinnedView> {
  return ask(api.POST('/api/bin/{kind}/{key}/restore', { params: { path: { kind, key: id } } }));
}
