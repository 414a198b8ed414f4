/** What is written down of a run, as the form shows it, and as it is sent. */
import type { Quantity, RunView, Schemas, TypedRun } from '$lib/api/client';
import { amountOf } from '$lib/units/amount';
import { fromSi, toSi } from '$lib/units/units.svelte';

import type { Stopped } from './stopped.svelte';

type PeakDraft = { speed: string; instrument: string };
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
type NotesTemperature = Schemas['TemperatureQuantity'];
export type ReadingDraft = { place: string; value: string; unit: 'degC' | 'degF'; minutes: string };
export type NotesDraft = {
  water: string;
  air: string;
  temperatureUnit: 'degC' | 'degF';
  wind: string;
  windUnit: 'm/s' | 'mph';
  windFrom: string;
  waterState: NonNullable<Schemas['ConditionsIn']['water_state']> | '';
  note: string;
  observations: string[];
  readings: ReadingDraft[];
  typed: TypedDraft;
};
export type System = 'metric' | 'imperial';

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
    const value = amountOf(typed);
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
    water_state?: NotesDraft['waterState'];
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
    const typed = reading.typed as unknown as NotesTemperature;
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

export type NotesBody = Schemas['NotesIn'];

/** The body that the notes are saved with; a field that is no number is named. */
export function bodyOf(notes: NotesDraft): { body: NotesBody; wrong: string[] } {
  const wrong: string[] = [];
  const measured = <U extends string>(label: string, typed: string, unit: U) => {
    if (typed.trim() === '') return undefined;
    const value = amountOf(typed, unit);
    if (value === undefined) wrong.push(`${label} '${typed}'`);
    return value === undefined ? undefined : { value, unit, source: 'measured' as const };
  };
  const conditions = {
    water: measured('water', notes.water, notes.temperatureUnit),
    air: measured('air', notes.air, notes.temperatureUnit),
    wind: measured('wind', notes.wind, notes.windUnit),
    wind_from_deg: amountOf(notes.windFrom),
    water_state: notes.waterState || undefined,
  };
  const readings = notes.readings.flatMap((row) => {
    const typed = measured(row.place, row.value, row.unit);
    return typed ? [{ place: row.place, typed, minutes_after: amountOf(row.minutes) ?? 0 }] : [];
  });
  const typed = sentOf(notes.typed, wrong);
  return { body: { conditions, note: notes.note, observations: notes.observations, readings, typed }, wrong };
}
