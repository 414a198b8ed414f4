/** A tub test as it runs: the clock, the readings, the curve, and when to stop. */
import { api, ask, Problem, type Schemas, type SetupDocument, type Tub } from '$lib/api/client';
import { Once } from '$lib/api/once';
import { aim } from '$lib/state/aim.svelte';
import { forget, keep, kept } from '$lib/state/kept';
import { Newest } from '$lib/state/newest';

export type TubReading = Schemas['TubReadingIn'];
export const EVERY_S = 30;
/** The gun's order at the tub: the case each time, the rest round and round. */
export const PLACES = ['case', 'controller', 'pack', 'connector'];

/** A curve that rises less than this is level: nobody sees it on a gun. */
const LEVEL_K_PER_MIN = 1;

/** How a curve of temperatures goes on: it is level, rises still, or falls because the pack is empty; and since when. */
type Outlook = { how: 'level' | 'rising' | 'empty'; at_c: number; after_s: number };

export function outlook(timeS: number[], c: number[]): Outlook {
  const last = c.length - 1;
  const peak = c.reduce((best, value, k) => (value > (c[best] ?? -Infinity) ? k : best), 0);
  if ((c[peak] ?? 0) - (c[last] ?? 0) > 3) return { how: 'empty', at_c: c[peak] ?? NaN, after_s: timeS[peak] ?? NaN };
  let k = last;
  for (; k > 0; k--) {
    const minutes = ((timeS[k] ?? 0) - (timeS[k - 1] ?? 0)) / 60;
    if (minutes > 0 && ((c[k] ?? 0) - (c[k - 1] ?? 0)) / minutes > LEVEL_K_PER_MIN) break;
  }
  const how = k === last ? 'rising' : 'level';
  return { how, at_c: c[last] ?? NaN, after_s: timeS[how === 'level' ? k : last] ?? NaN };
}

export class TubState {
  readings = $state<TubReading[]>([]);
  startedAt = $state<number | undefined>();
  /** Seconds on the clock. */
  now = $state(0);
  view = $state.raw<Tub | undefined>();
  /** Readings of the case that the curve on the sheet knows of. */
  answered = $state(0);
  problem = $state<Problem | undefined>();
  saved = $state(false);
  private document: SetupDocument | undefined;
  private setupId = 0;
  private boatId = 0;

  readonly running = $derived(this.startedAt !== undefined && !this.saved);
  /** The half minute whose reading is asked for. */
  readonly due = $derived(Math.floor(this.now / EVERY_S) * EVERY_S);
  readonly asks = $derived(
    this.running && this.due > 0 && !this.readings.some((r) => r.place === 'case' && r.seconds >= this.due - 12),
  );
  private readonly last = $derived(this.readings.filter((r) => r.place === 'case').at(-1)?.seconds);
  readonly left = $derived(
    this.view?.seconds_left === null || this.view?.seconds_left === undefined
      ? undefined
      : this.view.seconds_left - (this.now - (this.last ?? 0)),
  );
  /** Said before the ceiling, never after: also when the clock has run on since the last reading. */
  readonly stop = $derived(Boolean(this.view?.stop) || (this.running && this.left !== undefined && this.left <= 10));

  private readonly newest = new Newest<TubReading[], Tub>(
    (readings) =>
      ask(
        api.POST('/api/tub', {
          params: { query: { boat: this.boatId } },
          body: {
            document: this.document as SetupDocument,
            schools: $state.snapshot(aim.schools),
            readings,
          },
        }),
      ),
    (view, readings) => {
      this.view = view;
      this.answered = readings.length;
      this.problem = undefined;
    },
    (error) => (this.problem = error as Problem),
  );

  open(setupId: number, boatId: number, document: SetupDocument): void {
    this.document = document;
    this.boatId = boatId;
    this.setupId = setupId;
    const before = kept<{ readings: TubReading[]; startedAt: number | undefined }>(`tub.${setupId}`);
    this.readings = before?.readings ?? [];
    this.startedAt = before?.startedAt;
    this.saved = false;
    this.ask();
  }

  start(at = Date.now()): void {
    this.startedAt = at;
    this.readings = [];
    this.saved = false;
    this.now = 0;
    this.remember();
    this.ask();
  }

  tick(at = Date.now()): void {
    if (this.startedAt !== undefined && !this.saved) this.now = (at - this.startedAt) / 1000;
  }

  read(place: string, typed: TubReading['typed'], seconds = this.now): void {
    const others = this.readings.filter((r) => r.place !== place || r.seconds < seconds);
    this.readings = [...others, { seconds: Math.round(seconds * 10) / 10, place, typed }];
    this.remember();
    if (place === 'case') this.ask();
  }

  drop(): void {
    this.readings = this.readings.slice(0, -1);
    this.remember();
    this.ask();
  }

  private readonly once = new Once();
  async end(end: string, note: string): Promise<void> {
    const body = {
      document: this.document as SetupDocument,
      schools: $state.snapshot(aim.schools),
      readings: $state.snapshot(this.readings) as TubReading[],
      end,
      note,
    };
    try {
      const params = { path: { setup_id: this.setupId }, header: this.once.header(body) };
      await ask(api.POST('/api/setups/{setup_id}/tub-tests', { params, body }));
      this.once.arrived();
      this.saved = true;
      forget(`tub.${this.setupId}`);
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  private ask(): void {
    this.newest.ask(($state.snapshot(this.readings) as TubReading[]).filter((r) => r.place === 'case'));
  }
  private remember(): void {
    keep(`tub.${this.setupId}`, {
      readings: $state.snapshot(this.readings) as TubReading[],
      startedAt: this.startedAt,
    });
  }
}
