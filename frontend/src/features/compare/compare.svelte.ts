/** The trail of a boat: its newest setups with their newest runs; older ones when they are asked for. */
import {
  api,
  ask,
  askNothing,
  type Cause,
  type Knowledge,
  Problem,
  type SetupView,
  type Step,
  type TrailView,
} from '$lib/api/client';
import { aim } from '$lib/state/aim.svelte';
import { toasts } from '$lib/state/toasts.svelte';

export class CompareState {
  trail = $state.raw<TrailView | undefined>();
  /** What the boat's runs taught; comes after the trail, as it takes longer. */
  knowledge = $state.raw<Knowledge | undefined>();
  /** Every single change from the setup on the sheet, best first. */
  steps = $state.raw<Step[] | undefined>();
  private stepped: SetupView | undefined;
  failed = $state<Problem | undefined>();
  problem = $state<Problem | undefined>();
  /** Where the runs of a setup go on, for those that were asked for. */
  private next: Record<number, string | null> = {};

  async load(setupId: number): Promise<number | undefined> {
    this.failed = this.problem = undefined;
    this.next = {};
    try {
      const setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: setupId } } }));
      this.trail = await ask(api.GET('/api/boats/{boat_id}/trail', { params: { path: { boat_id: setup.boat_id } } }));
      void this.learn(setup.boat_id);
      void this.step(setup);
      return setup.boat_id;
    } catch (error) {
      this.failed = error as Problem;
      return undefined;
    }
  }

  /** What to change next on this setup, by what the runs taught: the same ranking as in Match. */
  private async step(setup: SetupView): Promise<void> {
    this.steps = undefined;
    this.stepped = setup;
    try {
      await aim.load(setup.boat_id);
      const { document } = setup;
      const duty = $state.snapshot(aim.duty);
      const schools = $state.snapshot(aim.schools);
      const body = { document, duty, schools, ...aim.raced };
      const found = await ask(api.POST('/api/next', { params: { query: { boat: setup.boat_id } }, body }));
      if (this.stepped === setup) this.steps = found.steps; // not those of a setup that was left
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  private async learn(boatId: number): Promise<void> {
    this.knowledge = undefined;
    try {
      this.knowledge = await ask(api.GET('/api/boats/{boat_id}/knowledge', { params: { path: { boat_id: boatId } } }));
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** Runs from which nothing is to be learnt, or again is. */
  async setAside(runs: number[], aside: boolean): Promise<void> {
    const boatId = this.trail?.boat_id;
    this.problem = undefined;
    try {
      await askNothing(api.PUT('/api/aside', { body: { runs, aside } }));
      // The way back is offered for some seconds: they begin when the page shows what was done.
      if (this.stepped) void this.step(this.stepped);
      if (boatId) await this.learn(boatId);
      const many = runs.length === 1 ? 'This run' : `${runs.length} runs`;
      const counts = runs.length === 1 ? 'counts' : 'count';
      toasts.say(aside ? `Set aside: nothing is learnt from ${many.toLowerCase()}` : `${many} ${counts} again`, () =>
        this.setAside(runs, !aside),
      );
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** A slip of the pen: what was meant is written in place of what was typed. */
  async putRight(run_id: number, cause: Cause): Promise<void> {
    const boatId = this.trail?.boat_id;
    this.problem = undefined;
    try {
      await ask(api.POST('/api/runs/{run_id}/put-right', { params: { path: { run_id } }, body: { cause } }));
      if (this.stepped) void this.step(this.stepped);
      if (boatId) await this.learn(boatId);
      toasts.say('Put right: it counts again');
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** The setups before those that are shown. */
  async olderSetups(): Promise<void> {
    const { trail } = this;
    if (!trail?.older) return;
    try {
      const params = { path: { boat_id: trail.boat_id }, query: { before: trail.older } };
      const before = await ask(api.GET('/api/boats/{boat_id}/trail', { params }));
      this.trail = { ...trail, setups: [...before.setups, ...trail.setups], older: before.older };
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** The runs of a setup before those that are shown. */
  async olderRuns(setupId: number): Promise<void> {
    try {
      const before = this.next[setupId];
      const query = before ? { before } : {};
      const page = await ask(
        api.GET('/api/setups/{setup_id}/compared', { params: { path: { setup_id: setupId }, query } }),
      );
      this.next[setupId] = page.next;
      this.trail = this.trail && {
        ...this.trail,
        setups: this.trail.setups.map((setup) => {
          if (setup.setup_id !== setupId) return setup;
          const shown = setup.runs.map((run) => run.run_id);
          const more = page.items.filter((run) => !shown.includes(run.run_id)).reverse();
          return { ...setup, runs: [...more, ...setup.runs] };
        }),
      };
    } catch (error) {
      this.problem = error as Problem;
    }
  }
}
