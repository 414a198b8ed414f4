/** What was taken out or put away, and the ways back. */
import { api, ask, askNothing, Problem, type BinnedView, type BoatView } from '$lib/api/client';
import { allPages } from '$lib/api/pages';
import { restore, type BinKind } from '$lib/state/bin';
import { boathouse } from '$lib/state/boathouse.svelte';
import { toasts } from '$lib/state/toasts.svelte';

export class BinState {
  binned = $state.raw<BinnedView[]>([]);
  archived = $state.raw<BoatView[]>([]);
  phase = $state<'loading' | 'ready' | 'failed'>('loading');
  problem = $state<Problem | undefined>();
  /** The one that is about to be deleted for good. */
  asked = $state.raw<BinnedView | undefined>();

  async load(): Promise<void> {
    try {
      const [binned, archived] = await Promise.all([
        ask(api.GET('/api/bin')),
        allPages((after) =>
          ask(api.GET('/api/boats', { params: { query: { archived: true, after: Number(after ?? 0) } } })),
        ),
      ]);
      this.binned = binned;
      this.archived = archived;
      this.phase = 'ready';
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
      this.phase = 'failed';
    }
  }

  private async act(work: () => Promise<string>): Promise<void> {
    try {
      const words = await work();
      await Promise.all([this.load(), boathouse.refresh()]);
      toasts.say(words);
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  putBack(one: BinnedView): Promise<void> {
    return this.act(async () => `Restored: ${(await restore(one.kind as BinKind, one.id)).name}`);
  }

  takeOut(boat: BoatView): Promise<void> {
    return this.act(async () => {
      const path = { boat_id: boat.id };
      await ask(api.PATCH('/api/boats/{boat_id}', { params: { path }, body: { archived: false } }));
      return `Back in the boathouse: ${boat.name}`;
    });
  }

  /** Deletes what was asked about; there is no way back from that. */
  destroy(): Promise<void> {
    const one = this.asked;
    this.asked = undefined;
    if (!one) return Promise.resolve();
    return this.act(async () => {
      const path = { kind: one.kind as BinKind, key: one.id };
      await askNothing(api.DELETE('/api/bin/{kind}/{key}', { params: { path } }));
      return `Deleted for good: ${one.name}`;
    });
  }
}
