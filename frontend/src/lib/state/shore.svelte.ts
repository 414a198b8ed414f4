/** The pond's shore being drawn: corners in metres, and the longest straight on it as the server finds it. */
import { api, ask, askNothing, type Pond, type Problem, type Shore } from '$lib/api/client';
import { Newest } from '$lib/state/newest';

export type Corner = [number, number];
/** Corners as the server writes them. */
export const cornersOf = (written: number[][]): Corner[] => written.map(([x = 0, y = 0]) => [x, y]);
const STEP_M = 2;
const snap = (metres: number): number => Math.round(metres / STEP_M) * STEP_M;

export class ShoreState {
  corners = $state.raw<Corner[]>([]);
  seen = $state.raw<Shore | undefined>();
  ponds = $state.raw<Pond[]>([]);
  name = $state('');
  problem = $state.raw<Problem | undefined>();

  private on: string | undefined;

  private readonly newest = new Newest<Corner[], Shore>(
    (corners) => ask(api.POST('/api/shore', { body: { corners } })),
    (seen) => {
      this.seen = seen;
      this.problem = undefined;
    },
    (error) => {
      this.seen = undefined;
      this.problem = error as Problem;
    },
  );

  async load(on?: string): Promise<void> {
    this.on = on;
    try {
      this.ponds = await ask(api.GET('/api/ponds', { params: { query: on ? { on } : {} } }));
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** A pond that was kept. */
  take(pond: Pond): void {
    this.put(cornersOf(pond.corners), pond.name);
  }

  put(corners: Corner[], name = this.name): void {
    this.corners = corners;
    this.name = name;
    this.seen = this.problem = undefined;
    if (corners.length >= 3) this.newest.ask(corners);
  }

  add(at: Corner): void {
    this.put([...this.corners, [snap(at[0]), snap(at[1])]]);
  }

  move(k: number, to: Corner): void {
    const next: Corner = [snap(to[0]), snap(to[1])];
    if (String(next) !== String(this.corners[k])) this.put(this.corners.map((c, j) => (j === k ? next : c)));
  }

  drop(k: number): void {
    this.put(this.corners.filter((_, j) => j !== k));
  }

  /** Round where a run went. */
  async fromRun(runId: number): Promise<void> {
    try {
      const found = await ask(api.GET('/api/runs/{run_id}/shore', { params: { path: { run_id: runId } } }));
      this.put(cornersOf(found.corners));
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  /** Whether it is kept. */
  async keep(): Promise<boolean> {
    try {
      const params = { path: { name: this.name.trim() } };
      await ask(api.PUT('/api/ponds/{name}', { params, body: { corners: this.corners } }));
      await this.load(this.on);
      return true;
    } catch (error) {
      this.problem = error as Problem;
      return false;
    }
  }

  async forget(name: string): Promise<void> {
    try {
      await askNothing(api.DELETE('/api/ponds/{name}', { params: { path: { name } } }));
      await this.load(this.on);
    } catch (error) {
      this.problem = error as Problem;
    }
  }
}

/** What is drawn, with water round it: left, bottom, width, height [m]. */
export function frameOf(corners: Corner[]): [number, number, number, number] {
  const LEAST = { width: 160, height: 90 };
  const xs = corners.map(([x]) => x);
  const ys = corners.map(([, y]) => y);
  const [left, right] = [Math.min(0, ...xs), Math.max(LEAST.width, ...xs)];
  const [bottom, top] = [Math.min(0, ...ys), Math.max(LEAST.height, ...ys)];
  const pad = 0.08 * (right - left);
  const scale = 0.06 * (right - left); // where the scale stands, clear of the water
  return [left - pad, bottom - pad - scale, right - left + 2 * pad, top - bottom + 2 * pad + scale];
}
