/** What the boat did, why, what to turn, and what its runs say of each knob; the server weighs it. */
import { api, ask, type Behaviour, type Problem, type Trim } from '$lib/api/client';
import { Newest } from '$lib/state/newest';

export class TrimState {
  told = $state.raw<Trim | undefined>();
  problem = $state<Problem | undefined>();
  /** What is tapped; undefined until somebody taps: then it is what was tapped on the newest run. */
  seen = $state<Behaviour[] | undefined>();
  /** The knob whose curve is on the sheet. */
  path = $state('');
  private setupId = 0;

  private readonly newest = new Newest<{ id: number; seen: Behaviour[] | null }, Trim>(
    ({ id, seen }) =>
      ask(api.POST('/api/setups/{setup_id}/trim', { params: { path: { setup_id: id } }, body: { seen } })),
    (told, { id }) => {
      if (id !== this.setupId) return; // of a setup that was left
      this.told = told;
      this.problem = undefined;
      if (!told.knobs.some((k) => k.path === this.path)) this.path = first(told);
    },
    (error) => (this.problem = error as Problem),
  );

  load(setupId: number): Promise<void> {
    if (setupId !== this.setupId) {
      this.told = this.seen = undefined;
      this.path = '';
    }
    this.setupId = setupId;
    this.newest.ask({ id: setupId, seen: this.seen ?? null });
    return this.newest.settled();
  }

  /** After a rule of thumb was changed. */
  again(): void {
    this.newest.ask({ id: this.setupId, seen: $state.snapshot(this.seen) ?? null });
  }

  tap(sign: Behaviour): void {
    const now = this.seen ?? this.told?.seen ?? [];
    this.seen = now.includes(sign) ? now.filter((one) => one !== sign) : [...now, sign];
    this.newest.ask({ id: this.setupId, seen: $state.snapshot(this.seen) });
  }
}

/** The knob with the most settings, else the first that stands in the setup. */
function first(told: Trim): string {
  const settings = (knob: Trim['knobs'][number]): number => knob.curves[0]?.settings ?? 0;
  const by = [...told.knobs].sort((a, b) => settings(b) - settings(a));
  return (by.find(settings) ?? told.knobs.find((k) => k.value !== null) ?? told.knobs[0])?.path ?? '';
}
