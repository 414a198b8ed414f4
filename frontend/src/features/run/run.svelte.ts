/** State of the Run screen: the runs of a boat, the one on the sheet with its track, and what is being written down. */
import {
  api,
  ask,
  askNothing,
  asForm,
  binary,
  Problem,
  type CsvMapping,
  type Forecast,
  type RunItem,
  type RunView,
  type SetupView,
  type Soak,
  type TrackView,
} from '$lib/api/client';
import { Once } from '$lib/api/once';
import { link } from '$lib/offline/link.svelte';
import type { Entry } from '$lib/offline/outbox';
import { saveTagged } from '$lib/state/conflict.svelte';
import { forget, keep, kept } from '$lib/state/kept';
import { welcome } from '$lib/state/welcome.svelte';
import { toasts } from '$lib/state/toasts.svelte';
import { day } from '$lib/units/day';

import { CSV, lookAt, mappingOf, send, TEXT, UNKNOWN, type Looked, type Offer, type Said } from './intake';
import { itemOf, localRun, slotOf, typedPath } from './local';
import { bodyOf, notesOf, type NotesBody, type NotesDraft, type System } from './notes';

/** The source of a run that was followed while it was driven. */
const LIVE = 'live';

/** Pause after the last keystroke at which what is written is saved. */
const REST_MS = 900;

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
      await link.known;
      const path = { boat_id: setup.boat_id };
      const [page, forecast] = await Promise.all([
        ask(api.GET('/api/boats/{boat_id}/runs', { params: { path } })),
        ask(api.POST('/api/forecast', { params: { query: { boat: setup.boat_id } }, body: setup.document })),
      ]);
      const made = at === this.asked ? [] : this.runs.filter((run) => run.id === this.fresh);
      const local = this.waiting().map((entry) => itemOf(localRun(entry, setup)));
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
      this.show(localRun(local, this.setup));
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
      const made = out.sent ? out.data : localRun(out.entry, setup);
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
    const look = await lookAt(file, this.setup?.id);
    if (look.sure && look.kind) return mappingOf(look, look.kind);
    this.looked = { file, look };
    return null;
  }

  /** A text that is no track of a known kind: perhaps a table. */
  private async ask(file: File, problem: Problem): Promise<void> {
    try {
      this.looked = { file, look: await lookAt(file, this.setup?.id) };
    } catch {
      this.problem = problem;
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

  private send(file: File, said: Said): Promise<RunView> {
    return send(file, said, { setupId: this.setup?.id ?? 0, runId: this.run?.id, once: this.once });
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
      saved = await ask(api.PUT('/api/runs/{run_id}/notes', { params, body }));
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
