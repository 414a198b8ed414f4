/** A large search: started, watched, stopped; its result stays until the next one. */
import { api, ask, Problem, type Job, type SetupDocument } from '$lib/api/client';
import { aim } from '$lib/state/aim.svelte';
import { toSi } from '$lib/units/units.svelte';

const ASK_MS = 150;

export class SearchState {
  over = $state<'shelf' | 'ranges'>('shelf');
  ranges = $state({ kv: true, diameter: true, pitch_ratio: true, cells: true, mass: false, fineness: 60 });
  kinds = $state({ motor: true, controller: true, propeller: true, pack: true });
  job = $state.raw<Job | undefined>();
  problem = $state<Problem | undefined>();
  readonly busy = $derived(this.job?.state === 'waiting' || this.job?.state === 'running');
  readonly part = $derived(this.job ? this.job.done / Math.max(this.job.total, 1) : 0);

  async start(document: SetupDocument): Promise<void> {
    this.problem = undefined;
    try {
      this.job = (await ask(
        api.POST('/api/searches', {
          body: {
            document,
            over: this.over,
            ranges: $state.snapshot(this.ranges),
            kinds: $state.snapshot(this.kinds),
            duty: $state.snapshot(aim.duty),
            schools: $state.snapshot(aim.schools),
            most_mass_kg: aim.mostMass ? toSi(aim.mostMass) : null,
            room_m: aim.roomLength ? toSi(aim.roomLength) : null,
            budget: aim.budget ?? null,
          },
        }),
      )) as Job;
      await this.watch();
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  private async watch(): Promise<void> {
    while (this.busy && this.job) {
      await new Promise((wait) => setTimeout(wait, ASK_MS));
      const { id } = this.job;
      this.job = (await ask(api.GET('/api/searches/{job_id}', { params: { path: { job_id: id } } }))) as Job;
    }
    if (this.job?.problem) this.problem = new Problem({ detail: this.job.problem });
  }

  async stop(): Promise<void> {
    if (!this.job) return;
    await ask(api.DELETE('/api/searches/{job_id}', { params: { path: { job_id: this.job.id } } }));
  }
}
