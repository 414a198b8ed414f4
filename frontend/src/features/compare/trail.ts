/** Layout of the trail: setups in their order as rows, branches as lanes, speed as the axis. */
import type { TrailView } from '$lib/api/client';

type Node = {
  id: number;
  row: number;
  lane: number;
  parentRow: number | undefined;
  parentLane: number | undefined;
};

/** Lanes: a setup stays in its parent's lane if it is the parent's first child, else it opens a new one. */
export function lanes(trail: TrailView): Node[] {
  const taken = new Set<number>();
  const found: Node[] = [];
  let next = 0;
  for (const [row, setup] of trail.setups.entries()) {
    const parent = found.find((n) => n.id === setup.parent_id);
    let lane: number;
    if (!parent || taken.has(parent.id)) {
      lane = parent || row ? ++next : 0;
    } else {
      lane = parent.lane;
    }
    if (parent) taken.add(parent.id);
    found.push({ id: setup.setup_id, row, lane, parentRow: parent?.row, parentLane: parent?.lane });
  }
  return found;
}

/** Lowest and highest speed that the trail has to show [m/s]. */
export function reach(trail: TrailView): [number, number] {
  const speeds: number[] = [];
  for (const setup of trail.setups) {
    for (const v of [setup.low_mps, setup.high_mps]) if (v !== null && v > 0) speeds.push(v);
    for (const run of setup.runs)
      for (const m of run.measured) if (m.dimension === 'speed' && m.measured) speeds.push(m.measured);
  }
  if (!speeds.length) return [0, 30];
  const [low, high] = [Math.min(...speeds), Math.max(...speeds)];
  const room = Math.max((high - low) * 0.08, 1);
  return [Math.max(low - room, 0), high + room];
}

/** By how much a measured value lies off its forecast [%]. */
export function off(measured: number | null, forecast: number | null): number | undefined {
  return measured === null || !forecast ? undefined : (measured / forecast - 1) * 100;
}
