/** The one way to the API: typed by its own description, errors as problems with words a racer can use. */
import createClient from 'openapi-fetch';

import { KEPT } from '$lib/offline/answers';
import { knowing } from '$lib/state/knowing.svelte';
import { units } from '$lib/units/units.svelte';

import type { components, paths } from './generated/schema';

export type Schemas = components['schemas'];
export type SetupDocument = Schemas['SetupDocument'];
export type SetupView = Schemas['SetupView'];
export type HullType = Schemas['HullType'];
export type BoatView = Schemas['BoatView'];
export type PartView = Schemas['PartView'];
export type DraftView = Schemas['DraftView'];
export type Forecast = Schemas['ForecastOut'];
export type Margin = Schemas['MarginOut'];
export type Banded = Schemas['Banded'];
export type RunView = Schemas['RunView'];
export type Logbook = Schemas['LogbookView'];
export type LogbookRun = Schemas['LogbookRun'];
export type StoppedAnswer = Schemas['StoppedOut'];
export type Trim = Schemas['TrimOut'];
export type Live = Schemas['LiveOut'];
export type LiveSource = Required<Schemas['SourceIn']>;
export type Drive = Schemas['DriveView'];
export type Soak = Schemas['SoakOut'];
export type AccountOut = Schemas['AccountOut'];
export type PackLife = Schemas['PackLifeOut'];
export type PackCourse = Schemas['PackCourseOut'];
export type PackRun = Schemas['PackRunOut'];
export type Origin = Schemas['OriginOut'];
export type Club = Schemas['ClubOut'];
export type Priors = Schemas['PriorsOut'];
export type ClassRule = Schemas['ClassRule'];
export type Security = Schemas['SecurityOut'];
export type Share = Schemas['BoatShareView'];
export type Member = Schemas['MemberView'];
export type Network = Schemas['NetworkView'];
export type Pairing = Schemas['PairingOut'];
export type Launch = Schemas['ReadyOut'];
export type Pond = Schemas['PondView'];
export type Shore = Schemas['ShoreOut'];
export type Day = Schemas['DayView'];
export type DayInput = Schemas['DayIn'];
export type TrimKnob = Schemas['KnobOut'];
export type TrimCurve = Schemas['KnobCurveOut'];
export type TrimRule = Schemas['RuleOut'];
export type TrimSizes = Schemas['SizesOut'];
export type Behaviour = Schemas['BehaviourOut']['sign'];
export type CsvLook = Schemas['CsvLookOut'];
export type CsvRole = NonNullable<Schemas['ColumnOut']['role']>;
/** What is in a CSV file and what its columns are; goes as JSON beside the file. */
export type CsvMapping = {
  kind: 'track' | 'log' | 'charge';
  columns: { column: number; role: CsvRole; unit: string }[];
};
/** One of several tracks in a file. */
export type TrackChoice = { name: string; samples: number; seconds: number; started_at: string | null };
export type TypedRun = Schemas['TypedRun'];
export type RunItem = Schemas['RunItem'];
export type SetupItem = Schemas['SetupItem'];
export type BinnedView = Schemas['BinnedView'];
export type Cause = Schemas['CauseView']['cause'];
export type ComparedRun = Schemas['ComparedRun'];
export type CsvTaken = Schemas['CsvTaken'];
export type TrackView = Schemas['TrackView'];
export type TrailView = Schemas['TrailView'];
export type Heat = Schemas['HeatOut'];
export type Step = Schemas['StepOut'];
export type NextChanges = Schemas['NextChangesOut'];
export type Intent = Schemas['Intent'];
export type SweepMap = Schemas['MapOut'];
export type Backward = Schemas['BackwardOut'];
export type Answer = Schemas['AnswerOut'];
export type Fit = Schemas['FitOut'];
export type Joint = Schemas['JointOut'];
export type FitStep = Schemas['FitStepOut'];
export type Section = Schemas['SectionOut'];
export type Circuit = Schemas['CircuitIn'];
export type Piece = Schemas['PieceIn'];
export type SearchSize = Schemas['SearchSizeOut'];
export type SolvedCircuit = Schemas['SolvedOut'];
export type Tub = Schemas['TubView'];
export type ShelfPart = PartView;
export type Verdict = Schemas['Verdict'];
export type Candidate = Schemas['CandidateView'];
export type Instrument = Schemas['InstrumentOut'];
export type InstrumentReading = Schemas['InstrumentReadingOut'];
export type Finder = Schemas['FinderOut'];
export type Progress = Schemas['ProgressOut'];
export type ImportLine = Schemas['ImportLine'];
export type Knowledge = Schemas['KnowledgeView'];
export type KnownRun = Schemas['KnownRunView'];
export type ChangeEffect = Schemas['ChangeEffectView'];
export type Search = Schemas['SearchOut'];
export type Found = Schemas['FoundOut'];
export type Noise = Schemas['NoiseIn'];
export type AimDocument = Schemas['AimIn'];
export type Difference = Schemas['Difference'];
export type Quantity = { value: number; unit: string; source?: Schemas['Source'] | undefined; spread?: number | null };

/** A field of a part, as forms are made from it. */
export type Field = Schemas['FieldRow'];
export type Option = Schemas['OptionOut'];
export type Vocabulary = Schemas['VocabularyOut'];

export class Problem extends Error {
  readonly title: string;
  readonly status: number;
  readonly field: string | undefined;
  readonly allowed: string | undefined;
  readonly line: number | undefined;
  readonly readable: number | undefined;
  readonly seconds: number | undefined;
  readonly broken: number | undefined;
  /** The tracks of a file that has several. */
  readonly tracks: TrackChoice[] | undefined;
  /** The state that stands there by now, where somebody else changed it, and its tag. */
  readonly current: Record<string, unknown> | undefined;
  readonly tag: string | undefined;

  constructor(body: Record<string, unknown>) {
    super(String(body.detail ?? body.title ?? 'something went wrong'));
    this.title = String(body.title ?? 'error');
    this.status = Number(body.status ?? 0);
    this.field = body.field as string | undefined;
    this.allowed = body.allowed as string | undefined;
    this.line = (body.line ?? undefined) as number | undefined;
    this.readable = body.readable as number | undefined;
    this.seconds = body.seconds as number | undefined;
    this.broken = body.broken as number | undefined;
    this.tracks = body.tracks as TrackChoice[] | undefined;
    this.current = (body.current ?? undefined) as Record<string, unknown> | undefined;
    this.tag = (body.tag ?? undefined) as string | undefined;
  }
}

export const api = createClient<paths>({ baseUrl: '' });
// Sentences come in the units that the racer reads.
api.use({
  onRequest({ request }) {
    request.headers.set('Units', units.system);
    if (!request.headers.has('Lessons')) request.headers.set('Lessons', knowing.lessons);
    const share = shared();
    if (share) request.headers.set('Share', share);
    return request;
  },
  // Without network the page's worker gives the answer that it kept.
  onResponse({ response }) {
    heard(response.headers.get(KEPT) ?? undefined);
    if (response.status === 401) refused();
  },
});
/**
 * Where a picture, a download or a stream of lines is: these carry no header, so the share that is looked through goes
 * before the path. A link's secret does not: the server knows it by a cookie of its own.
 */
export function fileAt(path: string): string {
  const share = shared();
  if (!share) return path;
  return `/through/${share === 'club' || /^\d+$/.test(share) ? share : 'link'}${path}`;
}
let heard: (keptAt: string | undefined) => void = () => undefined;
/** Told with each answer: when it was kept, of one that the network did not give. */
export function onAnswer(told: (keptAt: string | undefined) => void): void {
  heard = told;
}

let shared: () => string = () => '';
/** Asked with each request: through which share it looks. */
export function onShare(told: () => string): void {
  shared = told;
}
/** The header of a request that another way than {@link api} sends. */
export const shareHeader = (): Record<string, string> => (shared() ? { Share: shared() } : {});
let refused: () => void = () => undefined;
/** Told where the server does not know any more who asks. */
export function onRefusal(told: () => void): void {
  refused = told;
}

type Reply<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer, or a thrown {@link Problem}. */
export async function ask<T>(request: Promise<Reply<T>>): Promise<T> {
  return (await askTagged(request)).data;
}

/** The data of an answer with the tag of the state that it shows. */
export async function askTagged<T>(request: Promise<Reply<T>>): Promise<{ data: T; tag: string }> {
  const answer = await replyOf(request);
  const tag = answer.response.headers?.get('etag')?.replaceAll('"', '') ?? '';
  if (answer.data !== undefined) return { data: answer.data, tag };
  throw problemOf(answer);
}

/** For requests whose answer is empty. */
export async function askNothing(request: Promise<Reply<unknown>>): Promise<void> {
  const answer = await replyOf(request);
  if (answer.error !== undefined) throw problemOf(answer);
}

async function replyOf<T>(request: Promise<Reply<T>>): Promise<Reply<T>> {
  try {
    return await request;
  } catch {
    throw new Problem({
      title: 'no connection',
      detail: 'Kunstflug does not answer. What you typed is kept; try again.',
    });
  }
}

function problemOf(answer: Reply<unknown>): Problem {
  const body = typeof answer.error === 'object' && answer.error ? answer.error : { detail: answer.response.statusText };
  return new Problem({ status: answer.response.status, ...body });
}

/** A body with a file as a form: what the description calls a binary string is a file here. */
export function asForm(body: Record<string, unknown>): FormData {
  const form = new FormData();
  for (const [name, value] of Object.entries(body)) form.append(name, value instanceof File ? value : String(value));
  return form;
}

/** A file where the description has its content as a string. */
export const binary = (file: File): string => file as unknown as string;
