/** Is everything ready: the day's checks, go or wait, the plan of a pass; and the day on a time line. */
import { api, ask, type Day, type DayInput, type Launch, type Problem } from '$lib/api/client';
import { link } from '$lib/offline/link.svelte';
import { aim } from '$lib/state/aim.svelte';
import { Newest } from '$lib/state/newest';
import { today } from '$lib/units/day';

export type Waves = 'glass' | 'ripples' | 'chop' | 'waves';
type Asked = { id: number; day: string; standing: boolean; wind: number; water: number | null; waves: Waves };

/** Minutes after midnight as the clock shows them; past midnight with the days that passed. */
export function clock(minutes: number | null | undefined): string {
  if (minutes === null || minutes === undefined || !Number.isFinite(minutes)) return '–';
  const whole = Math.round(minutes);
  const days = Math.floor(whole / 1440);
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${two(Math.floor((whole % 1440) / 60))}:${two(whole % 60)}${days ? ` +${days}` : ''}`;
}

/** What a clock shows, in minutes after midnight; undefined for what is none. */
export function minutesOf(text: string): number | undefined {
  const found = /^(\d{1,2}):(\d{2})$/.exec(text.trim());
  if (!found || Number(found[1]) > 23 || Number(found[2]) > 59) return undefined;
  return Number(found[1]) * 60 + Number(found[2]);
}

export class LaunchState {
  told = $state.raw<Launch | undefined>();
  problem = $state<Problem | undefined>();
  day = $state(today());
  standing = $state(false);
  wind = $state(2);
  water = $state<number | null>(null);
  waves = $state<Waves>('ripples');
  /** Ticks that are on their way, by key. */
  private ticking = $state<Record<string, boolean>>({});
  private setupId = 0;

  private readonly newest = new Newest<Asked, Launch>(
    ({ id, day, standing, wind, water, waves }) =>
      ask(
        api.POST('/api/setups/{setup_id}/launch', {
          params: { path: { setup_id: id } },
          body: {
            day,
            duty: aim.duty,
            schools: aim.schools,
            standing,
            wind_mps: wind,
            water_c: water,
            waves,
          },
        }),
      ),
    (told, { id }) => {
      if (id !== this.setupId) return; // of a setup that was left
      this.told = told;
      this.problem = undefined;
    },
    (error) => (this.problem = error as Problem),
  );

  load(setupId: number): Promise<void> {
    if (setupId !== this.setupId) this.told = undefined;
    this.setupId = setupId;
    this.again();
    return this.newest.settled();
  }

  again(): void {
    const { day, standing, wind, water, waves } = this;
    if (this.setupId) this.newest.ask({ id: this.setupId, day, standing, wind, water, waves });
  }

  /** As it was tapped, though the network has it not yet. */
  done(key: string, was: boolean): boolean {
    const told = this.told;
    const waits = told && link.waiting.findLast((entry) => entry.slot === slotOf(told, key));
    return this.ticking[key] ?? (waits?.body as { done: boolean } | undefined)?.done ?? was;
  }

  async tick(key: string, done: boolean): Promise<void> {
    const told = this.told;
    if (!told) return;
    this.ticking[key] = done;
    try {
      const { sent } = await link.send({
        method: 'PUT',
        path: `/api/days/${told.day}/ticks`,
        body: { boat_id: told.boat_id, key, done },
        words: 'a tick',
        slot: slotOf(told, key),
      });
      if (!sent) return;
      const phases = told.phases.map((p) => ({
        ...p,
        checks: p.checks.map((c) => (c.key === key ? { ...c, done } : c)),
      }));
      if (this.told === told) this.told = { ...told, phases };
      if (told.asked.length) this.again();
    } catch (error) {
      this.problem = error as Problem;
    } finally {
      delete this.ticking[key];
    }
  }
}

function slotOf(told: Launch, key: string): string {
  return `tick.${told.day}.${told.boat_id}.${key}`;
}

export class DayState {
  view = $state.raw<Day | undefined>();
  /** What is being planned; a copy that follows the hand. */
  input = $state<DayInput | undefined>();
  plan = $state.raw<Day['plan'] | undefined>();
  problem = $state<Problem | undefined>();
  private day = '';

  private readonly newest = new Newest<DayInput, Day['plan']>(
    (body) => ask(api.POST('/api/days', { body })),
    (plan) => {
      this.plan = plan;
      this.problem = undefined;
    },
    (error) => (this.problem = error as Problem),
  );

  async load(day: string): Promise<void> {
    this.day = day;
    try {
      const view = await ask(api.GET('/api/days/{day}', { params: { path: { day } } }));
      if (day !== this.day) return;
      this.view = view;
      this.input = structuredClone(view.input) as DayInput;
      this.plan = view.plan;
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  get dirty(): boolean {
    return Boolean(this.view && this.input) && JSON.stringify(this.input) !== JSON.stringify(this.view?.input);
  }

  /** Changes the plan in the hand and asks what comes of it. */
  change(how: (input: DayInput) => void): void {
    if (!this.input) return;
    how(this.input);
    this.newest.ask($state.snapshot(this.input) as DayInput);
  }

  move(at: number, by: number): void {
    this.change((input) => {
      const [run] = input.runs.splice(at, 1);
      if (run) input.runs.splice(Math.min(Math.max(at + by, 0), input.runs.length), 0, run);
    });
  }

  async save(): Promise<boolean> {
    if (!this.input) return false;
    try {
      const body = $state.snapshot(this.input) as DayInput;
      const words = 'the plan of the day';
      const path = `/api/days/${this.day}`;
      const out = await link.send<Day>({ method: 'PUT', path, body, words, slot: path });
      if (out.sent) {
        this.view = out.data;
        this.plan = out.data.plan;
      }
      this.problem = undefined;
      return true;
    } catch (error) {
      this.problem = error as Problem;
      return false;
    }
  }
}
