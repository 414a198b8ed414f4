/** State of the new-boat sheet: what is typed, the document it makes, and the forecast as soon as there is one. */
import { api, ask, Problem, type Field, type Forecast, type SetupDocument, type SetupView } from '$lib/api/client';
import { Once } from '$lib/api/once';
import { forget, keep, kept } from '$lib/state/kept';
import { Newest } from '$lib/state/newest';
import { amountOf } from '$lib/units/amount';
import { fromSi, toSi, trimmed, unitLabel } from '$lib/units/units.svelte';

/** What is asked first; all else of a part is behind "more". */
export const FIRST: Record<string, string[]> = {
  hull: ['hull_type', 'length'],
  pack: ['cells', 'capacity', 'c_rating'],
  controller: ['continuous_current'],
  motor: ['kv', 'can_diameter', 'can_length'],
  propeller: ['diameter', 'pitch_ratio', 'blades'],
};

const SHOWN_UNITS: Record<string, Record<string, string>> = {
  metric: {},
  imperial: { mm: 'in', g: 'oz' },
};

type Typed = Record<string, string>;
type Wrong = Record<string, string>;

type Part = Record<string, unknown>;

/** Unit in which a field is asked for. */
function askedUnit(field: Field, system: string): string {
  return SHOWN_UNITS[system]?.[field.unit ?? ''] ?? field.unit ?? '';
}

/** What is allowed, in the typed unit, where a number is outside it; the server says the same, later. */
export function outside(field: Field, value: number, unit: string): string | undefined {
  const { low, high } = field;
  if (typeof low !== 'number' || typeof high !== 'number') return undefined;
  const edge = (at: number) => (field.unit ? fromSi(toSi({ value: at, unit: field.unit }), unit) : at);
  const fits = value >= edge(low) * (1 - 1e-9) && value <= edge(high) * (1 + 1e-9);
  return fits ? undefined : `${trimmed(edge(low))} to ${trimmed(edge(high))} ${unitLabel(unit)}`.trim();
}

/** The document of what is typed, and what keeps it from being one; an empty field is left to be guessed. */
export function documentOf(
  typed: Typed,
  fields: Field[],
  unitOf: (path: string) => string,
): { document: SetupDocument; missing: string[]; wrong: Wrong } {
  const document: Record<string, Part | unknown> = {};
  const missing: string[] = [];
  const wrong: Wrong = {};
  for (const field of fields) {
    if (!(field.part in FIRST) && field.part !== 'wiring') continue;
    const path = `${field.part}.${field.key}`;
    const part = (document[field.part] ??= {}) as Part;
    const text = (typed[path] ?? '').trim();
    const unit = field.type === 'count' ? '' : unitOf(path);
    const value = amountOf(text, unit);
    if (field.type === 'choice') {
      part[field.key] = text || field.default;
    } else if (text === '') {
      if (field.required) missing.push(path);
    } else if (value === undefined || (field.type === 'count' && !Number.isInteger(value))) {
      wrong[path] = field.type === 'count' ? 'a whole number' : 'a number';
    } else if (outside(field, value, unitOf(path))) {
      wrong[path] = outside(field, value, unitOf(path)) ?? '';
    } else {
      part[field.key] = field.type === 'count' ? value : { value, unit, source: 'typed' };
    }
  }
  if (!(typed['propeller.pitch_ratio'] || typed['propeller.pitch'])) missing.push('propeller.pitch_ratio');
  const mass = (typed['all_up_mass'] ?? '').trim();
  const value = amountOf(mass, unitOf('all_up_mass'));
  if (mass === '') missing.push('all_up_mass');
  else if (value === undefined) wrong['all_up_mass'] = 'a number';
  else document.all_up_mass = { value, unit: unitOf('all_up_mass'), source: 'typed' };
  // Its fields are those of the vocabulary, which is only known at run time: the server holds each against its range.
  return { document: document as SetupDocument, missing, wrong };
}

export class BoatState {
  typed = $state<Typed>(kept<Typed>('new-boat') ?? {});
  /** The unit each field was typed in; a switch of units does not reinterpret what stands there. */
  typedUnits = $state<Record<string, string>>(kept<Record<string, string>>('new-boat-units') ?? {});
  forecast = $state<Forecast | undefined>();
  problem = $state<Problem | undefined>();
  saving = $state(false);
  private readonly once = new Once();

  private readonly newest = new Newest<SetupDocument, Forecast>(
    // As it is kept: with what the racer's other boats taught, whatever is counted on the sheet.
    (document) => ask(api.POST('/api/forecast', { params: { header: { Lessons: 'learnt' } }, body: document })),
    (forecast) => {
      this.forecast = forecast;
      this.problem = undefined;
    },
    (error) => {
      this.forecast = undefined;
      this.problem = error as Problem;
    },
  );

  constructor(
    private readonly fields: () => Field[],
    private readonly system: () => string,
  ) {}

  unitOf = (path: string): string => {
    if (this.typed[path] && this.typedUnits[path]) return this.typedUnits[path];
    if (path === 'all_up_mass') return this.system() === 'imperial' ? 'oz' : 'g';
    const [part, key] = path.split('.');
    const field = this.fields().find((f) => f.part === part && f.key === key);
    return field ? askedUnit(field, this.system()) : '';
  };

  readonly made = $derived.by(() => documentOf(this.typed, this.fields(), this.unitOf));

  set(path: string, text: string): void {
    const unit = this.unitOf(path);
    this.typed = { ...this.typed, [path]: text };
    this.typedUnits = { ...this.typedUnits, [path]: unit };
    keep('new-boat', $state.snapshot(this.typed));
    keep('new-boat-units', $state.snapshot(this.typedUnits));
    this.recompute();
  }

  recompute(): void {
    const { document, missing, wrong } = this.made;
    if (missing.length || Object.keys(wrong).length) {
      this.newest.drop();
      this.forecast = this.problem = undefined;
    } else this.newest.ask(document);
  }

  async save(): Promise<SetupView | undefined> {
    const { document } = this.made;
    this.saving = true;
    try {
      const body = { name: this.typed.name ?? '', document: { ...document, name: 'first setup' } };
      const params = { header: this.once.header(body) };
      const saved = await ask(api.POST('/api/boats', { params, body }));
      this.once.arrived();
      forget('new-boat');
      forget('new-boat-units');
      return saved;
    } catch (error) {
      this.problem = error as Problem;
      return undefined;
    } finally {
      this.saving = false;
    }
  }
}
