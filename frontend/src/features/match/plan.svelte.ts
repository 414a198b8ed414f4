/** What is computed beside the forecast: heat through the duty, the single changes, the map. Each follows the draft. */
import {
  api,
  ask,
  Problem,
  type Heat,
  type Intent,
  type NextChanges,
  type SetupDocument,
  type Step,
  type SweepMap,
} from '$lib/api/client';
import { aim } from '$lib/state/aim.svelte';
import { Newest } from '$lib/state/newest';

/** What a racer wants of the next change, and how it is called. */
export const WANTED: [Intent, string][] = [
  ['faster', 'Faster'],
  ['within', 'Cooler, within limits'],
  ['longer', 'Longer'],
];

export class PlanState {
  heat = $state.raw<Heat | undefined>();
  next = $state.raw<NextChanges | undefined>();
  /** What was asked for; else what comes first unasked: back within limits where one is passed. */
  private chosen = $state<Intent | undefined>();
  holdingOnly = $state(false);
  readonly intent = $derived<Intent>(this.chosen ?? this.next?.wanted ?? 'faster');
  readonly said = $derived(this.next?.said[this.intent] ?? '');
  readonly outings = $derived(this.next?.outings[this.intent] ?? []);
  readonly steps = $derived<Step[]>(
    (this.next?.steps ?? [])
      .filter((step) => !this.holdingOnly || step.verdict === 'holds')
      .toSorted((a, b) => (a.place[this.intent] ?? 0) - (b.place[this.intent] ?? 0)),
  );
  stepsBusy = $state(false);
  map = $state.raw<SweepMap | undefined>();
  problem = $state<Problem | undefined>();
  private boatId: number | undefined;
  /** Whose runs count, and whose water cools. */
  private get of() {
    return { params: { query: { boat: this.boatId } } };
  }

  /** The boat that the documents are of. */
  follow(boatId: number): void {
    this.boatId = boatId;
  }

  /** What is wanted of the next change. */
  want(intent: Intent | undefined): void {
    this.chosen = intent;
    this.at = -1;
  }
  /** Which of the steps is being looked at with [ and ]. */
  at = $state(-1);

  private readonly heats = new Newest<SetupDocument, Heat>(
    (document) => ask(api.POST('/api/heat', { ...this.of, body: this.body(document) })) as Promise<Heat>,
    (heat) => (this.heat = heat),
    (error) => (this.problem = error as Problem),
  );
  private readonly maps = new Newest<SetupDocument, SweepMap>(
    (document) => ask(api.POST('/api/map', { ...this.of, body: this.body(document) })) as Promise<SweepMap>,
    (map) => (this.map = map),
    (error) => (this.problem = error as Problem),
  );
  private readonly walks = new Newest<SetupDocument, NextChanges>(
    (document) => {
      this.stepsBusy = true;
      const body = { ...this.body(document), ...aim.raced };
      return ask(api.POST('/api/next', { ...this.of, body }));
    },
    (next) => {
      this.next = next;
      this.at = -1;
      this.stepsBusy = false;
    },
    (error) => {
      this.problem = error as Problem;
      this.stepsBusy = false;
    },
  );

  private body(document: SetupDocument) {
    return { document, duty: $state.snapshot(aim.duty), schools: $state.snapshot(aim.schools) };
  }

  askHeat(document: SetupDocument): void {
    this.heats.ask(document);
  }
  askMap(document: SetupDocument): void {
    this.maps.ask(document);
  }
  askSteps(document: SetupDocument): void {
    this.walks.ask(document);
  }

  /** One further or back through the single changes, round the ends. */
  walk(by: number): Step | undefined {
    if (!this.steps.length) return undefined;
    this.at = (this.at + by + this.steps.length + (this.at < 0 && by < 0 ? 1 : 0)) % this.steps.length;
    return this.steps[this.at];
  }
}
