/** The boat's water circuit: drawn by hand, solved as it changes, kept when it is said so. */
import { api, ask, Problem, type Circuit, type SetupDocument, type SolvedCircuit } from '$lib/api/client';
import { aim } from '$lib/state/aim.svelte';
import { Newest } from '$lib/state/newest';

export class WaterState {
  saved = $state.raw<Circuit | undefined>();
  drawn = $state.raw<Circuit | undefined>();
  solved = $state.raw<SolvedCircuit | undefined>();
  problem = $state<Problem | undefined>();
  private history: Circuit[] = $state.raw([]);
  readonly canUndo = $derived(this.history.length > 0);
  readonly dirty = $derived(JSON.stringify(this.saved) !== JSON.stringify(this.drawn));

  private document: SetupDocument | undefined;
  private readonly newest = new Newest<Circuit, SolvedCircuit>(
    (circuit) =>
      ask(
        api.POST('/api/circuit', {
          body: {
            document: this.document as SetupDocument,
            circuit,
            duty: $state.snapshot(aim.duty),
            schools: $state.snapshot(aim.schools),
          },
        }),
      ) as Promise<SolvedCircuit>,
    (solved) => {
      this.solved = solved;
      this.problem = undefined;
    },
    (error) => (this.problem = error as Problem),
  );

  async load(boatId: number, document: SetupDocument): Promise<void> {
    this.document = document;
    try {
      this.saved = (await ask(
        api.GET('/api/boats/{boat_id}/circuit', { params: { path: { boat_id: boatId } } }),
      )) as Circuit;
      this.drawn = this.saved;
      this.history = [];
      this.newest.ask(this.saved);
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** Another setup warms the same water. */
  follow(document: SetupDocument): void {
    this.document = document;
    if (this.drawn) this.newest.ask(this.drawn);
  }

  draw(circuit: Circuit): void {
    if (!this.drawn || circuit === this.drawn) return;
    this.history = [...this.history.slice(-49), this.drawn];
    this.drawn = circuit;
    this.newest.ask(circuit);
  }

  undo(): void {
    const last = this.history.at(-1);
    if (!last) return;
    this.history = this.history.slice(0, -1);
    this.drawn = last;
    this.newest.ask(last);
  }

  async keep(boatId: number): Promise<void> {
    if (!this.drawn) return;
    try {
      const body = this.drawn;
      await ask(api.PUT('/api/boats/{boat_id}/circuit', { params: { path: { boat_id: boatId } }, body }));
      this.saved = body;
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
  }
}
