/** The boat's water circuit: drawn by hand, solved as it changes, kept when it is said so. */
import { api, ask, askTagged, Problem, type Circuit, type SetupDocument, type SolvedCircuit } from '$lib/api/client';
import { aim } from '$lib/state/aim.svelte';
import { saveTagged } from '$lib/state/conflict.svelte';
import { Newest } from '$lib/state/newest';
import { toasts } from '$lib/state/toasts.svelte';

export class WaterState {
  saved = $state.raw<Circuit | undefined>();
  drawn = $state.raw<Circuit | undefined>();
  solved = $state.raw<SolvedCircuit | undefined>();
  problem = $state<Problem | undefined>();
  private history: Circuit[] = $state.raw([]);
  readonly canUndo = $derived(this.history.length > 0);
  readonly dirty = $derived(JSON.stringify(this.saved) !== JSON.stringify(this.drawn));

  private document: SetupDocument | undefined;
  private boatId: number | undefined;
  private tag = '';
  private readonly newest = new Newest<Circuit, SolvedCircuit>(
    (circuit) =>
      ask(
        api.POST('/api/circuit', {
          params: { query: { boat: this.boatId } },
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
    this.boatId = boatId;
    try {
      const { data, tag } = await askTagged(
        api.GET('/api/boats/{boat_id}/circuit', { params: { path: { boat_id: boatId } } }),
      );
      this.tag = tag;
      this.saved = data as Circuit;
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

  private async put(boatId: number, body: Circuit): Promise<void> {
    const save = async (tag: string): Promise<string> => {
      const params = { path: { boat_id: boatId }, header: { 'If-Match': tag } };
      return (await askTagged(api.PUT('/api/boats/{boat_id}/circuit', { params, body }))).tag;
    };
    const tag = await saveTagged('the water circuit', body, this.tag, save, (theirs, theirTag) => {
      this.saved = this.drawn = theirs as Circuit;
      this.tag = theirTag;
      this.newest.ask(this.saved);
    });
    if (tag === undefined) return;
    this.tag = tag;
    this.saved = body;
  }

  async keep(boatId: number): Promise<void> {
    if (!this.drawn) return;
    const [body, before] = [this.drawn, this.saved];
    try {
      await this.put(boatId, body);
      this.problem = undefined;
      if (before && this.saved === body)
        toasts.say('Water circuit saved', async () => {
          this.drawn = before;
          await this.put(boatId, before);
          this.newest.ask(before);
        });
    } catch (error) {
      this.problem = error as Problem;
    }
  }
}
