/** A bench instrument in use: readings as typed, the result as they change, and where to write it. */
import {
  api,
  ask,
  Problem,
  type Finder,
  type Instrument,
  type InstrumentReading,
  type ShelfPart,
} from '$lib/api/client';
import { allPages } from '$lib/api/pages';
import { Newest } from '$lib/state/newest';
import { amountOf } from '$lib/units/amount';
import { fromSi, grouped, toSi, trimmed } from '$lib/units/units.svelte';

/** A result and its deviation with as many digits as the deviation leaves: 2210 ± 25, 4.76 ± 0.02. */
export function sure(value: number, sd: number): [string, string] {
  if (!(sd > 0)) return [trimmed(value), '0'];
  const digits = Math.min(Math.max(1 - Math.floor(Math.log10(sd)), 0), 6);
  return [grouped(value, digits), grouped(sd, digits)];
}

type Found = { words: string }[];
type Tool = { key: string; readings: InstrumentReading[] };

export class BenchState {
  instruments = $state.raw<Instrument[]>([]);
  finders = $state.raw<Finder[]>([]);
  key = $state('kv');
  typed = $state<Record<string, string>>({});
  result = $state.raw<{ value: number; sd: number; widest: string } | undefined>();
  found = $state.raw<Found | undefined>();
  problem = $state<Problem | undefined>();
  parts = $state.raw<ShelfPart[]>([]);
  written = $state('');

  readonly instrument = $derived(this.instruments.find((i) => i.key === this.key));
  readonly finder = $derived(this.finders.find((f) => `find-${f.key}` === this.key));
  readonly tool = $derived<Tool | undefined>(this.instrument ?? this.finder);
  /** Readings in the core's units; undefined while one of them is no number. */
  readonly si = $derived.by(() => {
    const found: Record<string, number> = {};
    for (const r of this.tool?.readings ?? []) {
      const number = amountOf(this.typed[r.key] ?? '', r.unit);
      if (number === undefined) return undefined;
      found[r.key] = toSi({ value: number, unit: r.unit });
    }
    return found;
  });
  /** Parts that can take the result. */
  readonly takers = $derived(
    this.parts.filter((p) => (this.instrument?.writes ?? []).some((path) => path.startsWith(`${p.kind}.`))),
  );

  private readonly newest = new Newest<{ key: string; readings: Record<string, number>; finds: boolean }, unknown>(
    ({ key, readings, finds }) =>
      finds
        ? ask(api.POST('/api/finders/{key}', { params: { path: { key } }, body: { readings } }))
        : ask(api.POST('/api/instruments/{key}', { params: { path: { key } }, body: { readings } })),
    (answer, { finds }) => {
      if (finds) this.found = answer as Found;
      else this.result = answer as { value: number; sd: number; widest: string };
      this.problem = undefined;
    },
    (error) => {
      this.problem = error as Problem;
      this.result = this.found = undefined;
    },
  );

  async load(): Promise<void> {
    try {
      [this.instruments, this.finders, this.parts] = await Promise.all([
        ask(api.GET('/api/instruments')),
        ask(api.GET('/api/finders')),
        allPages((after) => ask(api.GET('/api/parts', { params: { query: { after: after ?? '' } } }))),
      ]);
      this.use(this.key);
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  use(key: string): void {
    this.key = key;
    this.result = this.found = undefined;
    this.problem = undefined;
    this.written = '';
    this.typed = Object.fromEntries(
      (this.tool?.readings ?? []).map((r) => [r.key, String(Number(fromSi(r.usual, r.unit).toPrecision(6)))]),
    );
    this.work();
  }

  read(key: string, text: string): void {
    this.typed = { ...this.typed, [key]: text };
    this.written = '';
    this.work();
  }

  private work(): void {
    if (this.tool && this.si) {
      this.newest.ask({
        key: this.finder ? this.finder.key : this.key,
        readings: this.si,
        finds: Boolean(this.finder),
      });
    }
  }

  async write(partId: number): Promise<void> {
    const part = this.parts.find((p) => p.id === partId);
    const path = this.instrument?.writes.find((w) => w.startsWith(`${part?.kind}.`));
    if (!part || !path || !this.result) return;
    try {
      const { value, sd } = this.result;
      await ask(
        api.POST('/api/parts/{part_id}/measured', {
          params: { path: { part_id: partId } },
          body: { path, value, sd },
        }),
      );
      this.written = `Saved to ${part.name} as measured`;
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
  }
}
