/** State of the Run screen: the runs of a boat, the one on the sheet with its track, and what is being written down. */
import {
  api,
  ask,
  askNothing,
  asForm,
  binary,
  Problem,
  type CsvLook,
  type CsvMapping,
  type Forecast,
  type Quantity,
  type RunItem,
  type RunView,
  type SetupView,
  type Soak,
  type TrackView,
  type TypedRun,
} from '$lib/api/client';
import { Once } from '$lib/api/once';
import { link } from '$lib/offline/link.svelte';
import type { Entry } from '$lib/offline/outbox';
import { saveTagged } from '$lib/state/conflict.svelte';
import { knowing } from '$lib/state/knowing.svelte';
import { forget, keep, kept } from '$lib/state/kept';
import { welcome } from '$lib/state/welcome.svelte';
import { toasts } from '$lib/state/toasts.svelte';
import { day, iso } from '$lib/units/day';
import { fromSi, toSi } from '$lib/units/units.svelte';

import type { Stopped } from './stopped.svelte';

export type PeakDraft = { speed: string; instrument: string };
/** What is read off displays and written down, as typed. */
export type TypedDraft = {
  unit: 'km/h' | 'mph';
  peaks: PeakDraft[];
  second: string;
  there: string;
  back: string;
  passes: string;
  minutes: string;
  held: string;
  feathered: boolean;
  current: string;
  rpm: string;
  voltage: string;
  mah: string;
  cells: string;
  damage: string;
  /** Which of the damage was mended since; written by the logbook. */
  mended: string[];
  stopped: Stopped | null;
};
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
  typed: TypedDraft;
};
/** What the racer says of a file beside handing it over. */
export type Said = { acceptDamage?: boolean; track?: number; mapping?: CsvMapping };
/** A file that asks something: it is damaged, or has several tracks. */
export type Offer = { file: File; said: Said; problem: Problem };
/** A CSV file whose columns have to be looked at. */
export type Looked = { file: File; look: CsvLook };

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
    typed: emptyTyped(system),
  };
}

function emptyTyped(system: System): TypedDraft {
  const unit = system === 'metric' ? 'km/h' : 'mph';
  const drive = { current: '', rpm: '', voltage: '', mah: '', cells: '' };
  const none = { second: '', there: '', back: '', passes: '', minutes: '', held: '', ...drive };
  const peaks = [{ speed: '', instrument: '' }];
  return { unit, peaks, ...none, feathered: false, damage: '', mended: [], stopped: null };
}

/** What was typed of a run, as the form shows it, in the unit it was typed in. */
function typedOf(typed: TypedRun | undefined, system: System): TypedDraft {
  const draft = emptyTyped(system);
  if (!typed) return draft;
  const speeds = [...(typed.peaks ?? []).map((p) => p.speed), typed.second, typed.there, typed.back];
  const unit = (speeds.find((q) => q) as Quantity | undefined)?.unit;
  if (unit === 'km/h' || unit === 'mph') draft.unit = unit;
  const speed = (q: Quantity | null | undefined): string =>
    q ? text(q.unit === draft.unit ? q.value : Number(fromSi(toSi(q), draft.unit).toFixed(2))) : '';
  if (typed.peaks?.length)
    draft.peaks = typed.peaks.map((p) => ({ speed: speed(p.speed as Quantity), instrument: p.instrument ?? '' }));
  return {
    ...draft,
    second: speed(typed.second as Quantity | null),
    there: speed(typed.there as Quantity | null),
    back: speed(typed.back as Quantity | null),
    passes: text(typed.passes),
    minutes: text(typed.minutes),
    held: text(typed.held_s),
    feathered: typed.feathered ?? false,
    current: text(typed.current_a),
    rpm: text(typed.rpm),
    voltage: text(typed.voltage_v),
    mah: text(typed.mah_back),
    cells: (typed.rest_v ?? []).join(' '),
    damage: (typed.damage ?? []).join('; '),
    mended: [...(typed.mended ?? [])],
    stopped: (typed.stopped as Stopped | null | undefined) ?? null,
  };
}

/** What was typed, as it is sent; a field that is no number is named. */
function sentOf(draft: TypedDraft, wrong: string[]): TypedRun {
  const number = (label: string, typed: string): number | undefined => {
    const value = numberOf(typed);
    if (value === undefined && typed.trim() !== '') wrong.push(`${label} '${typed}'`);
    return value;
  };
  const speed = (label: string, typed: string): Quantity | undefined => {
    const value = number(label, typed);
    return value === undefined ? undefined : { value, unit: draft.unit, source: 'measured' };
  };
  const cells = draft.cells.split(/[\s;/]+/).filter(Boolean);
  const some = <T>(rows: T[]): T[] | undefined => (rows.length ? rows : undefined);
  const peaks = draft.peaks
    .map((p, k) => ({ speed: speed(`peak ${k + 1}`, p.speed), instrument: p.instrument.trim() || undefined }))
    .filter((p) => p.speed !== undefined);
  const damage = draft.damage.split(';').map((words) => words.trim());
  const sent = {
    peaks: some(peaks),
    second: speed('second best', draft.second),
    there: speed('there', draft.there),
    back: speed('back', draft.back),
    passes: number('passes', draft.passes),
    minutes: number('on the water', draft.minutes),
    held_s: number('full throttle', draft.held),
    feathered: draft.feathered || undefined,
    current_a: number('current', draft.current),
    rpm: number('rpm', draft.rpm),
    voltage_v: number('volts', draft.voltage),
    mah_back: number('put back', draft.mah),
    rest_v: some(cells.map((cell) => number('cell', cell)).filter((v) => v !== undefined)),
    damage: some(damage.filter(Boolean)),
    mended: some(draft.mended.filter((words) => damage.includes(words))),
    stopped: draft.stopped ?? undefined,
  };
  return sent as TypedRun;
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
  notes.typed = typedOf(run.typed, system);
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

export type NotesBody = {
  conditions: unknown;
  note: string;
  observations: string[];
  readings: unknown[];
  typed: TypedRun;
};

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
  const typed = sentOf(notes.typed, wrong);
  return { body: { conditions, note: notes.note, observations: notes.observations, readings, typed }, wrong };
}

/** The source of a run that was followed while it was driven. */
const LIVE = 'live';

/** Pause after the last keystroke at which what is written is saved. */
const REST_MS = 900;

const CSV = /\.(csv|tsv)(\.gz)?$/i;
const TEXT = /\.(csv|tsv|txt|log|dat)$/i;
const UNKNOWN = /not GPX/;

/** What was found of a file's columns, as it is sent. */
export function mappingOf(look: CsvLook, kind: CsvMapping['kind']): CsvMapping {
  const columns = look.columns.flatMap(({ role, unit }, column) => (role ? [{ column, role, unit }] : []));
  return { kind, columns };
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
  /** What each place should read after landing, of a run that was followed live. */
  soak = $state.raw<Soak | undefined>();
  offer = $state.raw<Offer | undefined>();
  looked = $state.raw<Looked | undefined>();
  problem = $state<Problem | undefined>();
  failed = $state<Problem | undefined>();
  busy = $state('');
  saved = $state(false);
  /** The run that was just made to be typed in. */
  fresh = $state<number | undefined>();
  /** Something is written that is not saved. */
  unsaved = $state(false);
  /** It waits on this device for the network. */
  later = $state(false);

  constructor(
    private readonly gunOrder: () => string[],
    private readonly system: () => System,
  ) {}

  /** The runs of a setup's boat; opens the one that is wanted, else the newest of the setup. */
  async load(setupId: number, wanted?: number): Promise<void> {
    this.failed = this.problem = this.offer = this.looked = undefined;
    const at = ++this.asked;
    try {
      const setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: setupId } } }));
      this.setup = setup;
      knowing.boatId = setup.boat_id;
      await link.known;
      const path = { boat_id: setup.boat_id };
      const [page, forecast] = await Promise.all([
        ask(api.GET('/api/boats/{boat_id}/runs', { params: { path } })),
        ask(api.POST('/api/forecast', { body: setup.document })),
      ]);
      const made = at === this.asked ? [] : this.runs.filter((run) => run.id === this.fresh);
      const local = this.waiting().map((entry) => itemOf(this.localRun(entry, setup)));
      const there = [...local, ...made.filter((run) => run.id > 0)];
      this.runs = [...there, ...page.items.filter((run) => run.id !== there.at(-1)?.id)];
      this.older = page.next ?? undefined;
      this.forecast = forecast;
      // A run was made or chosen meanwhile: that one is wanted.
      if (at !== this.asked) return;
      const first = wanted ? { id: wanted } : (this.runs.find((run) => run.setup_id === setupId) ?? this.runs[0]);
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
    const local = this.waiting().find((entry) => -entry.n === id);
    if (local && this.setup) {
      this.asked += 1;
      this.track = this.soak = undefined;
      this.show(this.localRun(local, this.setup));
      return;
    }
    const path = { run_id: id };
    const at = ++this.asked;
    try {
      const [run, track] = await Promise.all([
        ask(api.GET('/api/runs/{run_id}', { params: { path } })),
        ask(api.GET('/api/runs/{run_id}/track', { params: { path } })),
      ]);
      const drive = run.source === LIVE ? await ask(api.GET('/api/runs/{run_id}/drive', { params: { path } })) : null;
      if (at !== this.asked) return;
      this.show(run);
      this.track = track;
      this.soak = drive?.soak ?? undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** Counts what was asked to be shown: a late answer never takes the place of a later wish. */
  private asked = 0;

  private show(run: RunView): void {
    clearTimeout(this.resting);
    if (this.run?.id !== run.id) this.before = [];
    this.run = run;
    this.saved = false;
    const draft = kept<NotesDraft>(`notes.${run.id}`);
    this.unsaved = draft !== undefined;
    const saved = notesOf(run, this.gunOrder(), this.system());
    this.notes = draft ? { ...saved, ...draft } : saved;
    if (draft) this.resting = setTimeout(() => void this.save(), REST_MS);
  }

  /** A run that left no file: made, and opened to be typed in. */
  async typeIn(): Promise<void> {
    const { setup, run } = this;
    if (!setup) return;
    this.problem = this.offer = this.looked = undefined;
    this.busy = 'making a run…';
    this.asked += 1;
    // What is typed now belongs to the new run: the one on the sheet is put away first.
    if (this.unsaved) await this.save();
    this.run = this.track = this.notes = undefined;
    try {
      const words = `a run of ${setup.name}, typed in`;
      const path = typedPath(setup.id);
      const out = await link.send<RunView>({ method: 'POST', path, body: {}, words, dated: 'started_at' });
      const made = out.sent ? out.data : this.localRun(out.entry, setup);
      this.fresh = made.id;
      await this.arrived(made);
    } catch (error) {
      this.problem = error as Problem;
      if (run) this.show(run);
    } finally {
      this.busy = '';
    }
  }

  /** Runs that were typed in without network, and are not with the server yet. */
  private waiting(): Entry[] {
    const path = this.setup && typedPath(this.setup.id);
    return link.waiting.filter((entry) => entry.method === 'POST' && entry.path === path);
  }

  private localRun(entry: Entry, setup: SetupView): RunView {
    const none = {
      summary: null,
      log: null,
      held: null,
      photo: false,
      damages: [],
      readings: [],
      observations: [],
      odd: [],
    };
    const typed = emptyRun();
    const { id: setup_id, boat_id, name: setup_name } = setup;
    return {
      id: -entry.n,
      setup_id,
      setup_name,
      boat_id,
      started_at: iso(entry.at),
      source: 'typed in',
      ...none,
      typed,
      conditions: {},
      note: '',
      tag: '',
    };
  }

  /** What was kept on this device is with the server now: the run on the sheet is looked at again. */
  async delivered(): Promise<void> {
    const { run, setup } = this;
    if (!run || !setup || link.waiting.some((entry) => entry.slot === slotOf(run))) return;
    if (run.id > 0) {
      if (!this.later) return;
      this.later = false;
      forget(`notes.${run.id}`);
      await this.open(run.id);
    } else if (!this.waiting().some((entry) => -entry.n === run.id)) {
      forget(`notes.${run.id}`);
      this.later = false;
      await this.load(setup.id);
    }
  }

  /** Takes in a file: a track makes a new run, a log goes to the run on the sheet; a CSV may have to be asked about. */
  async take(file: File, said: Said = {}): Promise<void> {
    if (!this.setup) return;
    this.problem = this.offer = this.looked = undefined;
    this.busy = `reading ${file.name}…`;
    try {
      const mapping = said.mapping ?? (CSV.test(file.name) ? await this.mapped(file) : undefined);
      if (mapping === null) return;
      await this.arrived(await this.send(file, mapping ? { ...said, mapping } : said));
    } catch (error) {
      const problem = error as Problem;
      if (problem.readable !== undefined || problem.tracks) this.offer = { file, said, problem };
      else if (!said.mapping && UNKNOWN.test(problem.message) && TEXT.test(file.name)) await this.ask(file, problem);
      else this.problem = problem;
    } finally {
      this.busy = '';
    }
  }

  /** Counts pictures, so that a new one is not shown from the browser's memory of the old. */
  pictures = $state(0);

  async putPicture(file: File): Promise<void> {
    const { run } = this;
    if (!run) return;
    this.problem = undefined;
    this.busy = 'saving the picture…';
    try {
      const params = { path: { run_id: run.id } };
      const sent = { params, body: { file: binary(file) }, bodySerializer: asForm };
      await askNothing(api.PUT('/api/runs/{run_id}/photo', sent));
      this.pictures += 1;
      if (this.run?.id === run.id) this.run = { ...this.run, photo: true };
    } catch (error) {
      this.problem = error as Problem;
    } finally {
      this.busy = '';
    }
  }

  async dropPicture(): Promise<void> {
    const { run } = this;
    if (!run) return;
    try {
      await askNothing(api.DELETE('/api/runs/{run_id}/photo', { params: { path: { run_id: run.id } } }));
      if (this.run?.id === run.id) this.run = { ...this.run, photo: false };
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** What a CSV file is, where nothing has to be asked; null where the racer is asked first. */
  private async mapped(file: File): Promise<CsvMapping | null> {
    const look = await this.lookAt(file);
    if (look.sure && look.kind) return mappingOf(look, look.kind);
    this.looked = { file, look };
    return null;
  }

  private lookAt(file: File): Promise<CsvLook> {
    return ask(api.POST('/api/csv/look', { body: { file: binary(file) }, bodySerializer: asForm }));
  }

  /** A text that is no track of a known kind: perhaps a table. */
  private async ask(file: File, problem: Problem): Promise<void> {
    try {
      this.looked = { file, look: await this.lookAt(file) };
    } catch {
      this.problem = problem;
    }
  }

  private send(file: File, { acceptDamage = false, track, mapping }: Said): Promise<RunView> {
    const setupId = this.setup?.id ?? 0;
    const json = mapping && JSON.stringify(mapping);
    if (mapping?.kind === 'log' || mapping?.kind === 'charge') {
      if (!this.run)
        throw new Problem({ detail: 'A log belongs to a run: take in its track first, or type in the run.' });
      const params = { path: { run_id: this.run.id } };
      const body = { file: binary(file), mapping: json ?? '' };
      if (mapping.kind === 'charge')
        return ask(api.POST('/api/runs/{run_id}/charge-log', { params, body, bodySerializer: asForm }));
      const sent = { ...body, accept_damage: acceptDamage };
      return ask(api.POST('/api/runs/{run_id}/controller-log', { params, body: sent, bodySerializer: asForm }));
    }
    const header = this.once.header([setupId, file.name, file.size, file.lastModified, acceptDamage, track, json]);
    const body = {
      file: binary(file),
      accept_damage: acceptDamage,
      ...(track === undefined ? {} : { track }),
      ...(json ? { mapping: json } : {}),
    };
    const params = { path: { setup_id: setupId }, header };
    return ask(api.POST('/api/setups/{setup_id}/runs', { params, body, bodySerializer: asForm }));
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
    this.problem = this.offer = this.looked = undefined;
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
    this.runs = [itemOf(run), ...this.runs.filter((other) => other.id !== run.id)];
    await this.open(run.id);
  }

  /** What was saved before, newest last, to go back to. */
  private before: NotesBody[] = $state.raw([]);
  readonly canUndo = $derived(this.before.length > 0);
  private edits = 0;
  private resting: ReturnType<typeof setTimeout> | undefined;

  /** Called at every keystroke: what is written is kept at once, and saved when the hand rests. */
  touched(): void {
    this.edits += 1;
    this.saved = false;
    this.unsaved = true;
    if (this.run && this.notes) keep(`notes.${this.run.id}`, $state.snapshot(this.notes));
    clearTimeout(this.resting);
    this.resting = setTimeout(() => void this.save(), REST_MS);
  }

  async save(): Promise<void> {
    clearTimeout(this.resting);
    const { run, notes } = this;
    if (!run || !notes) return;
    const { body, wrong } = bodyOf(notes);
    if (wrong.length) {
      this.problem = new Problem({ title: 'impossible value', detail: `not a number: ${wrong.join(', ')}` });
      return;
    }
    const before = bodyOf(notesOf(run, this.gunOrder(), this.system())).body;
    try {
      if (await this.put(run, body)) this.before = [...this.before.slice(-30), before];
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** Back to what was saved before the last change. */
  async undo(): Promise<void> {
    const body = this.before.at(-1);
    if (!body || !this.run) return;
    clearTimeout(this.resting);
    try {
      if (!(await this.put(this.run, body))) return;
      this.before = this.before.slice(0, -1);
      this.show(this.run);
      this.saved = true;
      toasts.say('Undone');
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** Saves what is written; where it was changed elsewhere meanwhile, the racer chooses. Tells whether it was saved. */
  private async put(run: RunView, body: NotesBody): Promise<boolean> {
    const saved = await this.tryToPut(run, body);
    if (saved && body.typed?.peaks?.length) welcome.did('typed');
    return saved;
  }

  private async tryToPut(run: RunView, body: NotesBody): Promise<boolean> {
    const at = this.edits;
    let saved: RunView | undefined;
    const save = async (tag: string): Promise<string> => {
      const params = { path: { run_id: run.id }, header: { 'If-Match': tag } };
      saved = await ask(api.PUT('/api/runs/{run_id}/notes', { params, body: body as never }));
      return saved.tag;
    };
    if (run.id < 0 || link.waiting.some((entry) => entry.slot === slotOf(run))) return this.keepForLater(run, body);
    try {
      await saveTagged('the notes on this run', body, run.tag, save, () => undefined);
    } catch (error) {
      if ((error as Problem).title !== 'no connection') throw error;
      return this.keepForLater(run, body);
    }
    if (this.run?.id !== run.id) return false;
    // Typed on meanwhile: that stays on the sheet, and is saved in its turn.
    if (this.edits !== at) {
      if (saved) this.run = saved;
      return saved !== undefined;
    }
    forget(`notes.${run.id}`);
    this.unsaved = false;
    if (saved) this.run = saved;
    else this.show(await ask(api.GET('/api/runs/{run_id}', { params: { path: { run_id: run.id } } })));
    this.saved = saved !== undefined;
    return this.saved;
  }

  /** Without network the notes wait on this device, behind the run that they belong to where that waits too. */
  private async keepForLater(run: RunView, body: NotesBody): Promise<boolean> {
    const local = this.waiting().find((entry) => -entry.n === run.id);
    const words = `the notes on the run of ${day(run.started_at)}`;
    const to = local
      ? { path: '/api/runs/{id}/notes', after: local.key }
      : { path: `/api/runs/${run.id}/notes`, tag: run.tag };
    const out = await link.send<RunView>({ method: 'PUT', body, words, slot: slotOf(run), ...to });
    this.later = !out.sent;
    this.unsaved = false;
    if (out.sent) await this.delivered();
    return true;
  }
}

function slotOf(run: RunView): string {
  return `notes.${run.id}`;
}

function typedPath(setupId: number): string {
  return `/api/setups/${setupId}/runs/typed`;
}

function itemOf(run: RunView): RunItem {
  return { ...run, best_mps: null, duration_s: run.summary?.duration_s ?? null };
}

/** What is typed of a run of which nothing is typed yet. */
function emptyRun(): TypedRun {
  return {
    peaks: [],
    second: null,
    there: null,
    back: null,
    held_s: null,
    passes: null,
    minutes: null,
    feathered: null,
    current_a: null,
    rpm: null,
  } as unknown as TypedRun;
}
