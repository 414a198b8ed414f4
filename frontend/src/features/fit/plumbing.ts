/** Where the pieces of a water circuit stand in the plan of the boat, and what runs between them. */
import type { Circuit, Piece, SolvedCircuit } from '$lib/api/client';

import type { Path } from './circuit';

type Spot = { path: Path; key: string; piece: Piece; x: number; y: number; wide: number };
/** A hose or a joint: from one place to the next, with the flow and the temperature in it. */
export type Run = {
  key: string;
  from: { x: number; y: number };
  to: { x: number; y: number };
  flow: number;
  c: number;
};
type Plumbing = { spots: Spot[]; runs: Run[]; wide: number; high: number };

const WIDE: Record<Piece['kind'], number> = {
  pickup: 1.1,
  hose: 1.35,
  motor: 1.9,
  controller: 1.7,
  outlet: 1.1,
  y: 0.5,
};
const COLUMN = 74;
const LANE = 104;

/** How many lanes a row needs: one, or those of its widest split. */
function lanes(row: Piece[]): number {
  return Math.max(1, ...row.map((piece) => (piece.branches ?? []).reduce((sum, branch) => sum + lanes(branch), 0)));
}

/** How long a row is, in columns. */
function length(row: Piece[]): number {
  return row.reduce(
    (sum, piece) =>
      sum + (piece.branches?.length ? 2 * WIDE.y + Math.max(...piece.branches.map(length)) : WIDE[piece.kind]),
    0,
  );
}

/**
 * Lays the circuit out from the stern (left) forwards; branches lie beside each other, and come together where they join.
 * Sizes are pixels of the drawing before it is fitted to the sheet.
 */
export function plumbing(circuit: Circuit, solved: SolvedCircuit | undefined): Plumbing {
  const spots: Spot[] = [];
  const runs: Run[] = [];
  const places = new Map((solved?.places ?? []).map((place) => [place.path.join('.'), place]));

  function lay(row: Piece[], path: Path, x: number, top: number): { x: number; y: number; flow: number; c: number } {
    const y = (top + lanes(row) / 2) * LANE;
    let end = { x, y, flow: 0, c: Number.NaN };
    let column = x;
    row.forEach((piece, k) => {
      const own = [...path, k];
      const key = own.join('.');
      if (piece.branches?.length) {
        const split = { x: column + 0.25 * COLUMN, y };
        spots.push({ path: own, key, piece, ...split, wide: 0.5 * COLUMN });
        if (k) runs.push({ key: `${key}<`, from: end, to: split, flow: end.flow, c: end.c });
        let lane = top;
        const from = column + WIDE.y * COLUMN;
        const ends = piece.branches.map((branch, b) => {
          const start = { x: from, y: (lane + lanes(branch) / 2) * LANE };
          const first = places.get([...own, b, 0].join('.'));
          runs.push({
            key: `${key}.${b}<`,
            from: split,
            to: start,
            flow: first?.flow_l_min ?? 0,
            c: first?.before_c ?? NaN,
          });
          const reached = lay(branch, [...own, b], from, lane);
          lane += lanes(branch);
          return reached;
        });
        column = from + Math.max(...piece.branches.map(length)) * COLUMN + WIDE.y * COLUMN;
        const flow = ends.reduce((sum, one) => sum + one.flow, 0);
        const mixed = ends.reduce((sum, one) => sum + one.flow * one.c, 0) / (flow || 1);
        const joint = { x: column - 0.25 * COLUMN, y };
        if (piece.joins)
          ends.forEach((one, b) => runs.push({ key: `${key}.${b}>`, from: one, to: joint, flow: one.flow, c: one.c }));
        end = { ...joint, flow: piece.joins ? flow : 0, c: mixed };
        return;
      }
      const wide = WIDE[piece.kind] * COLUMN;
      const place = places.get(key);
      const flow = place?.flow_l_min ?? 0;
      if (k)
        runs.push({
          key: `${key}<`,
          from: end,
          to: { x: column, y },
          flow: flow || end.flow,
          c: place?.before_c ?? end.c,
        });
      runs.push({ key, from: { x: column, y }, to: { x: column + wide, y }, flow, c: place?.after_c ?? Number.NaN });
      spots.push({ path: own, key, piece, x: column + wide / 2, y, wide });
      column += wide;
      end = { x: column, y, flow, c: place?.after_c ?? end.c };
    });
    return end;
  }

  let top = 0;
  circuit.lines.forEach((row, k) => {
    lay(row, [k], 0, top);
    top += lanes(row);
  });
  return { spots, runs, wide: Math.max(...circuit.lines.map(length), 1) * COLUMN, high: top * LANE };
}
