/** State of the Run screen: the runs of a boat, the one on the sheet with its track, and what is being written down. */
import {
  api,
  ask,
  asForm,
  binary,
  Problem,
  type Forecast,
  type Quantity,
  type RunItem,
  type RunView,
  type SetupView,
  type TrackView,
} from '$lib/api/client';
import { Once } from '$lib/api/once';
import { saveTagged } from '$lib/state/conflict.svelte';
import { forget, keep, kept } from '$lib/state/kept';
import { toasts } from '$lib/state/toasts.svelte';

export type ReadingDraft = { place: string; value: string; unit: string; minutes: string };
export type NotesDraft = {
  water: string;
  air: string;
  temperatureUnit: 'degC' | 'degF';
  wind: string;
  windUnit: 'm/s' | 'mph';
  windFrom: string;
  waterState: string;
  note: string;
  observations: string[];
  readings: ReadingDraft[];
};
export type Offer = { file: File; problem: Problem };

type System = 'metric' | 'imperial';

export function emptyNotes(gunOrder: string[], system: System): NotesDraft {
  const temperatureUnit = system === 'metric' ? 'degC' : 'degF';
  return {
    water: '',
    air: '',
    temperatureUnit,
    wind: '',
    windUnit: system === 'metric' ? 'm/s' : 'mph',
    windFrom: '',
    waterState: '',
    note: '',
    observations: [],
    readings: gunOrder.map((place) => ({ place, value: '', unit: temperatureUnit, minutes: '' })),
  };
}

/** The notes of a saved run, as the form shows them. */
export function notesOf(run: RunView, gunOrder: string[], system: System): NotesDraft {
  const notes = emptyNotes(gunOrder, system);
  const conditions = run.conditions as {
    water?: Quantity;
    air?: Quantity;
    wind?: Quantity;
    wind_from_deg?: number;
    water_state?: string;
  };
  const unit = conditions.water?.unit ?? conditions.air?.unit;
  if (unit === 'degC' || unit === 'degF') notes.temperatureUnit = unit;
  notes.water = text(conditions.water?.value);
  notes.air = text(conditions.air?.value);
  notes.wind = text(conditions.wind?.value);
  if (conditions.wind?.unit === 'm/s' || conditions.wind?.unit === 'mph') notes.windUnit = conditions.wind.unit;
  notes.windFrom = text(conditions.wind_from_deg);
  notes.waterState = conditions.water_state ?? '';
  notes.note = run.note;
  notes.observations = [...run.observations];
  for (const reading of run.readings) {
    const typed = reading.typed as unknown as Quantity;
    const row = {
      place: reading.place,
      value: text(typed.value),
      unit: typed.unit,
      minutes: text(reading.minutes_after),
    };
    const at = notes.readings.findIndex((r) => r.place === reading.place);
    if (at >= 0) notes.readings[at] = row;
    else notes.readings.push(row);
  }
  return notes;
}

function text(value: number | null | undefined): string {
  return value === null || value === undefined ? '' : String(value);
}

/** A decimal comma is a comma on half of all phones. */
export function numberOf(typed: string): number | undefined {
  const value = Number(typed.trim().replace(',', '.'));
  return typed.trim() === '' || !Number.isFinite(value) ? undefined : value;
}

export type NotesBody = { conditions: unknown; note: string; observations: string[]; readings: unknown[] };

/** The body that the notes are saved with; a field that is no number is named. */
export function bodyOf(notes: NotesDraft): { body: NotesBody; wrong: string[] } {
  const wrong: string[] = [];
  const measured = (label: string, typed: string, unit: string): Quantity | undefined => {
    if (typed.trim() === '') return undefined;
    const value = numberOf(typed);
    if (value === undefined) wrong.push(`${label} '${typed}'`);
    return value === undefined ? undefined : { value, unit, source: 'measured' };
  };
  const conditions = {
    water: measured('water', notes.water, notes.temperatureUnit),
    air: measured('air', notes.air, notes.temperatureUnit),
    wind: measured('wind', notes.wind, notes.windUnit),
    wind_from_deg: numberOf(notes.windFrom),
    water_state: notes.waterState || undefined,
  };
  const readings = notes.readings
    .map((row) => ({
      place: row.place,
      typed: measured(row.place, row.value, row.unit),
      minutes_after: numberOf(row.minutes) ?? 0,
    }))
    .filter((row) => row.typed !== undefined);
  return { body: { conditions, note: notes.note, observations: notes.observations, readings }, wrong };
}

export class RunState {
  setup = $state<SetupView | undefined>();
  forecast = $state<Forecast | undefined>();
  runs = $state.raw<RunItem[]>([]);
  /** Where the list of runs goes on, where there are more. */
  older = $state<string | undefined>();
  run = $state<RunView | undefined>();
  track = $state<TrackView | undefined>();
  notes = $state<NotesDraft | undefined>();
  offer = $state<Offer | undefined>();
  problem = $state<Problem | undefined>();
  failed = $state<Problem | undefined>();
  busy = $state('');
  saved = $state(false);
  /** Something is written that is not saved. */
  unsaved = $state(false);

  constructor(
    private readonly gunOrder: () => string[],
    private readonly system: () => System,
  ) {}

  async load(setupId: number): Promise<void> {
    this.failed = this.problem = this.offer = undefined;
    try {
      const setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: setupId } } }));
      this.setup = setup;
      const path = { boat_id: setup.boat_id };
      const [page, forecast] = await Promise.all([
        ask(api.GET('/api/boats/{boat_id}/runs', { params: { path } })),
        ask(api.POST('/api/forecast', { body: setup.document })),
      ]);
      this.runs = page.items;
      this.older = page.next ?? undefined;
      this.forecast = forecast;
      const first = this.runs.find((run) => run.setup_id === setupId) ?? this.runs[0];
      if (first) await this.open(first.id);
      else this.run = this.track = this.notes = undefined;
    } catch (error) {
      this.failed = error as Problem;
    }
  }

  /** The page of runs before those that are listed. */
  async more(): Promise<void> {
    const { setup, older } = this;
    if (!setup || !older) return;
    try {
      const params = { path: { boat_id: setup.boat_id }, query: { before: older } };
      const page = await ask(api.GET('/api/boats/{boat_id}/runs', { params }));
      this.runs = [...this.runs, ...page.items];
      this.older = page.next ?? undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  async open(id: number): Promise<void> {
    const path = { run_id: id };
    try {
      const [run, track] = await Promise.all([
        ask(api.GET('/api/runs/{run_id}', { params: { path } })),
        ask(api.GET('/api/runs/{run_id}/track', { params: { path } })),
      ]);
      this.show(run);
      this.track = track;
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  private show(run: RunView): void {
    this.run = run;
    this.saved = false;
    const draft = kept<NotesDraft>(`notes.${run.id}`);
    this.unsaved = draft !== undefined;
    this.notes = draft ?? notesOf(run, this.gunOrder(), this.system());
  }

  /** Takes in a file: a track makes a new run, a CSV is a controller log for the run on the sheet. */
  async take(file: File, acceptDamage = false): Promise<void> {
    const setup = this.setup;
    if (!setup) return;
    this.problem = this.offer = undefined;
    this.busy = `reading ${file.name}…`;
    const log = /\.csv$/i.test(file.name);
    try {
      if (log && !this.run)
        throw new Problem({ detail: 'A controller log belongs to a run: take in its track first.' });
      const runId = this.run?.id ?? 0;
      const header = this.once.header([log ? runId : setup.id, file.name, file.size, file.lastModified, acceptDamage]);
      const sent = { body: { file: binary(file), accept_damage: acceptDamage }, bodySerializer: asForm };
      const made = log
        ? api.POST('/api/runs/{run_id}/controller-log', { params: { path: { run_id: runId } }, ...sent })
        : api.POST('/api/setups/{setup_id}/runs', { params: { path: { setup_id: setup.id }, header }, ...sent });
      await this.arrived(await ask(made as Promise<{ data?: RunView; response: Response }>));
    } catch (error) {
      const problem = error as Problem;
      if (problem.readable !== undefined) this.offer = { file, problem };
      else this.problem = problem;
    } finally {
      this.busy = '';
    }
  }

  async simulate(body: {
    seed: number;
    passes: number;
    water_c: number;
    air_c: number;
    wind_mps: number;
    wind_from_deg: number;
  }): Promise<void> {
    const setup = this.setup;
    if (!setup) return;
    this.problem = this.offer = undefined;
    this.busy = 'driving on the simulated pond…';
    try {
      const params = { path: { setup_id: setup.id }, header: this.once.header(body) };
      await this.arrived(await ask(api.POST('/api/setups/{setup_id}/simulate', { params, body })));
    } catch (error) {
      this.problem = error as Problem;
    } finally {
      this.busy = '';
    }
  }

  private readonly once = new Once();
  private async arrived(run: RunView): Promise<void> {
    this.once.arrived();
    const item: RunItem = { ...run, best_mps: null, duration_s: run.summary?.duration_s ?? null };
    this.runs = [item, ...this.runs.filter((other) => other.id !== run.id)];
    await this.open(run.id);
  }

  /** Called at every keystroke: what is written is kept until it is saved. */
  touched(): void {
    this.saved = false;
    this.unsaved = true;
    if (this.run && this.notes) keep(`notes.${this.run.id}`, $state.snapshot(this.notes));
  }

  async save(): Promise<void> {
    const { run, notes } = this;
    if (!run || !notes) return;
    const { body, wrong } = bodyOf(notes);
    if (wrong.length) {
      this.problem = new Problem({ title: 'impossible value', detail: `not a number: ${wrong.join(', ')}` });
      return;
    }
    this.busy = 'saving…';
    try {
      const before = bodyOf(notesOf(run, this.gunOrder(), this.system())).body;
      await this.put(run, body);
      this.problem = undefined;
      if (this.run?.id !== run.id || !this.saved) return;
      toasts.say('Notes saved', async () => {
        if (this.run) await this.put(this.run, before);
      });
    } catch (error) {
      this.problem = error as Problem;
    } finally {
      this.busy = '';
    }
  }

  /** Saves what is written; where it was changed elsewhere meanwhile, the racer chooses. */
  private async put(run: RunView, body: NotesBody): Promise<void> {
    let saved: RunView | undefined;
    const save = async (tag: string): Promise<string> => {
      const params = { path: { run_id: run.id }, header: { 'If-Match': tag } };
      saved = await ask(api.PUT('/api/runs/{run_id}/notes', { params, body: body as never }));
      return saved.tag;
    };
    await saveTagged('the notes on this run', body, run.tag, save, () => undefined);
    forget(`notes.${run.id}`);
    this.show(saved ?? (await ask(api.GET('/api/runs/{run_id}', { params: { path: { run_id: run.id } } }))));
    this.saved = saved !== undefined;
    this.unsaved = false;
  }
}
