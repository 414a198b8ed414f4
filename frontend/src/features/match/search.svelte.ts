/** A large search: started, watched, stopped; its result stays until the next one. */
import { api, ask, Problem, type Progress, type SearchSize, type SetupDocument } from '$lib/api/client';
import { lines } from '$lib/api/stream';
import { aim } from '$lib/state/aim.svelte';
import { Newest } from '$lib/state/newest';
import { toSi } from '$lib/units/units.svelte';

export class SearchState {
  over = $state<'shelf' | 'ranges'>('shelf');
  ranges = $state({ kv: true, diameter: true, pitch_ratio: true, cells: true, mass: false, fineness: 60 });
  kinds = $state({ motor: true, controller: true, propeller: true, pack: true });
  progress = $state.raw<Progress | undefined>();
  problem = $state<Problem | undefined>();
  stopped = $state(false);
  busy = $state(false);
  readonly part = $derived(this.progress ? this.progress.done / Math.max(this.progress.total, 1) : 0);
  private closing: AbortController | undefined;

  /** How large the search would be as it is set; undefined while that is asked, or where it is too large. */
  size = $state.raw<SearchSize | undefined>();
  private readonly sizes = new Newest<ReturnType<SearchState['body']>, SearchSize>(
    (body) => ask(api.POST('/api/searches/size', { body })),
    (size) => {
      this.size = size;
      this.problem = undefined;
    },
    (error) => {
      this.size = undefined;
      this.problem = error as Problem;
    },
  );

  /** Asks how large it would be; nothing is searched. */
  measure(document: SetupDocument): void {
    this.sizes.ask(this.body(document));
  }

  private body(document: SetupDocument) {
    return {
      document,
      over: this.over,
      ranges: $state.snapshot(this.ranges),
      kinds: $state.snapshot(this.kinds),
      duty: $state.snapshot(aim.duty),
      schools: $state.snapshot(aim.schools),
      most_mass_kg: aim.mostMass ? toSi(aim.mostMass) : null,
      room_m: aim.roomLength ? toSi(aim.roomLength) : null,
      budget: aim.budget ?? null,
    };
  }

  async start(document: SetupDocument, boatId: number): Promise<void> {
    this.problem = this.progress = undefined;
    this.stopped = false;
    this.busy = true;
    const closing = (this.closing = new AbortController());
    const body = this.body(document);
    try {
      for await (const line of lines<Progress>(`/api/searches?boat=${boatId}`, body, closing.signal))
        this.progress = line;
      if (this.progress?.problem) this.problem = new Problem({ detail: this.progress.problem });
      else if (!this.progress?.result)
        this.problem = new Problem({ detail: 'The search broke off before its end. Try again.' });
    } catch (error) {
      if (closing.signal.aborted) this.stopped = true;
      else this.problem = error instanceof Problem ? error : new Problem({ detail: 'Kunstflug does not answer.' });
    } finally {
      this.busy = false;
    }
  }

  /** Closing the answer stops the work. */
  stop(): void {
    this.closing?.abort();
  }
}
