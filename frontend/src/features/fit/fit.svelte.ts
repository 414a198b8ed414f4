/** Joints, drawing and lists of the setup on the sheet, of the draft where there is one. */
import { api, ask, askNothing, Problem, type Fit, type SetupDocument, type SetupView } from '$lib/api/client';
import { aim } from '$lib/state/aim.svelte';
import { Newest } from '$lib/state/newest';

export class FitState {
  saved = $state.raw<Fit | undefined>();
  now = $state.raw<Fit | undefined>();
  problem = $state<Problem | undefined>();

  private readonly newest = new Newest<{ document: SetupDocument; before: SetupDocument; boat: number }, Fit>(
    ({ boat, ...setups }) => {
      const body = { ...setups, duty: $state.snapshot(aim.duty), schools: $state.snapshot(aim.schools) };
      return ask(api.POST('/api/fit', { params: { query: { boat } }, body }));
    },
    (fit) => {
      // Ticks are kept with the saved setup.
      const done = this.saved?.build.filter((s) => s.done).map((s) => s.key) ?? [];
      this.now = { ...fit, build: fit.build.map((s) => ({ ...s, done: done.includes(s.key) })) };
      this.problem = undefined;
    },
    (error) => (this.problem = error as Problem),
  );

  async load(setupId: number): Promise<void> {
    this.newest.drop();
    try {
      this.saved = await ask(api.GET('/api/setups/{setup_id}/fit', { params: { path: { setup_id: setupId } } }));
      this.now = this.saved;
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** The draft's joints; those of the saved setup where nothing is tried. */
  follow(document: SetupDocument, before: SetupView, dirty: boolean): void {
    if (dirty) this.newest.ask({ document, before: before.document, boat: before.boat_id });
    else {
      this.newest.drop();
      if (this.saved) this.now = this.saved;
    }
  }

  async tick(setupId: number, key: string, done: boolean): Promise<void> {
    this.turn(key, done);
    try {
      await askNothing(
        api.PUT('/api/setups/{setup_id}/ticks', { params: { path: { setup_id: setupId } }, body: { key, done } }),
      );
      this.problem = undefined;
    } catch (error) {
      // What is not kept is not done.
      this.turn(key, !done);
      this.problem = error as Problem;
    }
  }

  private turn(key: string, done: boolean): void {
    const turned = (fit: Fit | undefined): Fit | undefined =>
      fit && {
        ...fit,
        build: fit.build.map((s) => (s.key === key ? { ...s, done } : s)),
        swap: fit.swap.map((s) => (s.key === key ? { ...s, done } : s)),
        first_power: fit.first_power.map((s) => (s.key === key ? { ...s, done } : s)),
      };
    this.saved = turned(this.saved);
    this.now = turned(this.now);
  }
}
