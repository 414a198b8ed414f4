/** A saved setup, changes being tried on it, and the forecasts of both; Match and Fit work on the same draft. */
import { api, ask, Problem, type DraftView, type PartView, type Quantity, type SetupView } from '$lib/api/client';
import { Once } from '$lib/api/once';
import { aim } from '$lib/state/aim.svelte';
import { forget, keep, kept } from '$lib/state/kept';
import { boathouse } from '$lib/state/boathouse.svelte';
import { go, pathTo } from '$lib/state/go';
import { here } from '$lib/state/here.svelte';
import { Newest } from '$lib/state/newest';
import { toasts } from '$lib/state/toasts.svelte';
import { welcome } from '$lib/state/welcome.svelte';

export type ChangeValue = Quantity | number | string | Record<string, unknown> | null;
export type Changes = Record<string, ChangeValue>;

/** What is being tried: changes, and the parts of the shelf that they came from. */
type Tried = { changes: Changes; shelf: Record<string, number> };

const GESTURE_MS = 700;
/** A hand that has not moved for so long rests. */
const REST_MS = 160;
/** What had no answer, for want of network or database, is asked again after so long. */
const AGAIN_MS = 1500;

/** Whether the server said no: asked again it would say it again. */
function isRefusal(error: unknown): boolean {
  return error instanceof Problem && error.status >= 400 && error.status < 500;
}

/** A drive without what explains it, beside what was last said of that. */
function unexplained(draft: DraftView, last: DraftView): DraftView {
  const { dangers, guesses, doubts, caveats } = last.forecast;
  return {
    ...draft,
    differences: last.differences,
    forecast: { ...draft.forecast, dangers, guesses, doubts, caveats },
  };
}

function withPart(tried: Tried, part: PartView): Tried {
  const others = Object.entries(tried.changes).filter(([path]) => path.split('.')[0] !== part.kind);
  return {
    changes: { ...Object.fromEntries(others), [part.kind]: part.document as ChangeValue },
    shelf: { ...tried.shelf, [part.kind]: part.id },
  };
}

/** Puts a part of the shelf into the draft of a setup that is not open: it is tried as soon as that is. */
export function putIntoDraft(setupId: number, part: PartView): void {
  const tried = kept<Tried>(`draft.${setupId}`) ?? { changes: {}, shelf: {} };
  keep(`draft.${setupId}`, withPart(tried, part));
}

/** A draft, judged as the boat on the sheet is. One question for all who ask, so that its answer is at hand without
    network. */
export function drafted(setup: SetupView, changes: Changes = {}, explained = true): Promise<DraftView> {
  const body = {
    schools: $state.snapshot(aim.schools),
    duty: $state.snapshot(aim.duty),
    document: setup.document,
    changes: Object.entries(changes).map(([path, value]) => ({ path, value })),
    explained,
  };
  return ask(api.POST('/api/draft', { params: { query: { boat: setup.boat_id } }, body }));
}

export class DraftState {
  setup = $state.raw<SetupView | undefined>();
  /** Forecast of the setup as saved: the ghost. */
  base = $state.raw<DraftView | undefined>();
  /** Forecast with the changes; the same as base while there are none. */
  now = $state.raw<DraftView | undefined>();
  changes = $state<Changes>({});
  shelf = $state<Record<string, number>>({});
  problem = $state<Problem | undefined>();
  failed = $state<Problem | undefined>();
  saving = $state(false);

  readonly dirty = $derived(Object.keys(this.changes).length > 0);

  private history: Tried[] = $state([]);
  readonly canUndo = $derived(this.history.length > 0);
  private readonly once = new Once();
  private lastPath = '';
  private lastAt = 0;

  private readonly newest = new Newest<{ changes: Changes; explained: boolean }, DraftView>(
    ({ changes, explained }) => this.request(changes, explained),
    (draft, { explained }) => {
      this.now = explained || !this.now ? draft : unexplained(draft, this.now);
      this.behind = false;
      this.problem = undefined;
    },
    (error) => {
      this.behind = true;
      this.problem = error as Problem;
      if (!isRefusal(error)) this.againLater();
    },
  );

  /** What is shown is not what was asked for last: that had no answer. */
  private behind = false;

  private resting: ReturnType<typeof setTimeout> | undefined;
  private again: ReturnType<typeof setTimeout> | undefined;

  /** No number stays beside a thumb that it is not of: what had no answer is asked again until the link is back. */
  private againLater(): void {
    clearTimeout(this.again);
    this.again = setTimeout(() => {
      if (this.behind && this.dirty) void this.askAgain();
    }, AGAIN_MS);
  }

  /** The drive at once, and what explains it as soon as the hand rests. */
  private follow(changes: Changes): void {
    clearTimeout(this.resting);
    this.newest.ask({ changes, explained: false });
    this.resting = setTimeout(() => this.newest.ask({ changes, explained: true }), REST_MS);
  }

  private request(changes: Changes, explained = true): Promise<DraftView> {
    const setup = this.setup;
    if (!setup) return Promise.reject(new Problem({ detail: 'no setup is open' }));
    return drafted(setup, changes, explained);
  }

  async load(id: number): Promise<void> {
    clearTimeout(this.resting);
    clearTimeout(this.again);
    this.newest.drop();
    this.failed = this.problem = undefined;
    try {
      const setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: id } } }));
      this.setup = setup;
      // What the boat is for decides how it is judged: without network a judgement by something else is not at hand.
      await aim.load(setup.boat_id).catch(() => undefined);
      this.base = this.now = await this.request({});
      const stored = kept<Tried>(`draft.${id}`);
      this.changes = stored?.changes ?? {};
      this.shelf = stored?.shelf ?? {};
      this.history = [];
      this.behind = this.dirty; // until its forecast arrives
      if (this.dirty) this.newest.ask({ changes: $state.snapshot(this.changes) as Changes, explained: true });
    } catch (error) {
      this.failed = error as Problem;
    }
  }

  /** Tries a value; values that come quickly after one another on one path are one step of undo. */
  change(path: string, value: ChangeValue): void {
    const at = Date.now();
    if (path !== this.lastPath || at - this.lastAt > GESTURE_MS) this.remember();
    this.lastPath = path;
    this.lastAt = at;
    this.changes = { ...this.changes, [path]: value };
    welcome.did('knob');
    this.recompute();
  }

  /** Puts a part from the shelf into the boat; single values changed on the old part go with it. */
  swap(part: PartView): void {
    this.remember();
    ({ changes: this.changes, shelf: this.shelf } = withPart({ changes: this.changes, shelf: this.shelf }, part));
    this.recompute();
  }

  /** Tries several numbers or parts at once: a place on the map, a drive that a search found. */
  previewMany(changes: [string, ChangeValue][], shelf: Record<string, number> = {}): void {
    this.remember();
    this.changes = Object.fromEntries(changes);
    this.shelf = shelf;
    this.recompute();
  }

  /** How often it was judged anew: an answer that was overtaken does not count. */
  private judged = 0;

  /** Both forecasts anew, under other schools or another duty. */
  async rejudge(): Promise<void> {
    if (!this.setup) return;
    const asked = ++this.judged;
    try {
      const base = await this.request({});
      if (asked !== this.judged) return; // what came after it counts
      this.base = base;
      if (!this.dirty) this.now = this.base;
      else this.newest.ask({ changes: $state.snapshot(this.changes) as Changes, explained: true });
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  undo(): void {
    const last = this.history.at(-1);
    if (!last) return;
    this.history = this.history.slice(0, -1);
    this.changes = last.changes;
    this.shelf = last.shelf;
    this.lastPath = '';
    this.recompute();
  }

  clear(): void {
    if (!this.dirty) return;
    this.remember();
    this.changes = {};
    this.shelf = {};
    this.recompute();
  }

  /** Saves the draft as a new setup below this one; undefined where that failed (the draft is kept). */
  async adopt(name = ''): Promise<SetupView | undefined> {
    const { setup } = this;
    if (!setup || this.saving) return undefined;
    this.saving = true;
    try {
      // Enter may come faster than the forecast of the last pull.
      await this.newest.settled();
      if (this.behind && this.problem?.status !== 422) await this.askAgain();
      const { now } = this;
      if (!now || this.behind) return undefined;
      const body = { document: now.document, name, shelf: $state.snapshot(this.shelf) };
      const params = { path: { setup_id: setup.id }, header: this.once.header(body) };
      const adopted = await ask(api.POST('/api/setups/{setup_id}/adopt', { params, body }));
      this.once.arrived();
      forget(`draft.${setup.id}`);
      toasts.say(`Saved as a new setup: ${adopted.name}`, async () => {
        await ask(api.DELETE('/api/setups/{setup_id}', { params: { path: { setup_id: adopted.id } } }));
        await boathouse.refresh();
        go(pathTo(here.mark ?? 'match', setup.id));
      });
      return adopted;
    } catch (error) {
      this.problem = error as Problem;
      return undefined;
    } finally {
      this.saving = false;
    }
  }

  /** What had no answer, because the program or its database was away. */
  private askAgain(): Promise<void> {
    this.newest.ask({ changes: $state.snapshot(this.changes) as Changes, explained: true });
    return this.newest.settled();
  }

  private remember(): void {
    const snapshot = { changes: $state.snapshot(this.changes) as Changes, shelf: $state.snapshot(this.shelf) };
    this.history = [...this.history.slice(-49), snapshot];
  }

  private recompute(): void {
    const changes = $state.snapshot(this.changes) as Changes;
    if (this.setup) {
      const key = `draft.${this.setup.id}`;
      if (this.dirty) keep(key, { changes, shelf: $state.snapshot(this.shelf) });
      else forget(key);
    }
    if (this.dirty) this.follow(changes);
    else {
      clearTimeout(this.resting);
      this.newest.drop();
      this.now = this.base;
      this.behind = false;
      this.problem = undefined;
    }
  }
}
