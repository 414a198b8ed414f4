/** The water circuit as a tree of pieces: found, moved, taken out and put in by its path. */
import type { Circuit, Piece } from '$lib/api/client';

/** Line, piece, then branch and piece for each split on the way. */
export type Path = number[];
export type Kind = Piece['kind'];

export const KINDS: Kind[] = ['hose', 'motor', 'controller', 'pickup', 'outlet'];

export function fresh(kind: Kind): Piece {
  return {
    kind,
    bore_mm: 4,
    length_mm: kind === 'hose' ? 200 : 0,
    bends: 0,
    open_part: 1,
    source: 'rudder',
    branches: [],
    joins: true,
  } as Piece;
}

/** The row that a path points into, in a copy that may be changed. */
function rowOf(circuit: Circuit, path: Path): Piece[] | undefined {
  let row = circuit.lines[path[0] ?? 0];
  for (let at = 1; at + 2 < path.length; at += 2) row = row?.[path[at] ?? 0]?.branches?.[path[at + 1] ?? 0];
  return row;
}

function edited(circuit: Circuit, path: Path, edit: (row: Piece[], at: number) => void): Circuit {
  const copy = structuredClone(circuit);
  const row = rowOf(copy, path);
  const at = path.at(-1) ?? 0;
  if (row) edit(row, at);
  return copy;
}

export function pieceAt(circuit: Circuit, path: Path): Piece | undefined {
  return rowOf(circuit, path)?.[path.at(-1) ?? 0];
}

export function changed(circuit: Circuit, path: Path, change: Partial<Piece>): Circuit {
  return edited(circuit, path, (row, at) => {
    const piece = row[at];
    if (piece) row[at] = { ...piece, ...change };
  });
}

/** Whether a piece may stand anywhere in its row: pickups stay first, outlets last. */
function movable(piece: Piece | undefined): boolean {
  return piece !== undefined && piece.kind !== 'pickup' && piece.kind !== 'outlet';
}

/** One place towards the outlet or back; the same circuit where it cannot go. */
export function moved(circuit: Circuit, path: Path, by: 1 | -1): { circuit: Circuit; path: Path } {
  const row = rowOf(circuit, path);
  const at = path.at(-1) ?? 0;
  if (!movable(row?.[at]) || !movable(row?.[at + by])) return { circuit, path };
  const next = edited(circuit, path, (copy) => {
    const [piece] = copy.splice(at, 1);
    if (piece) copy.splice(at + by, 0, piece);
  });
  return { circuit: next, path: [...path.slice(0, -1), at + by] };
}

export function without(circuit: Circuit, path: Path): Circuit {
  if (!movable(pieceAt(circuit, path))) return circuit;
  return edited(circuit, path, (row, at) => row.splice(at, 1));
}

/** A piece put in behind another one. */
export function inserted(circuit: Circuit, path: Path, kind: Kind): Circuit {
  const last = pieceAt(circuit, path)?.kind === 'outlet';
  return edited(circuit, path, (row, at) => row.splice(last ? at : at + 1, 0, fresh(kind)));
}

/** A Y: the piece in one branch, a hose beside it in the other; they join again, or not. */
export function split(circuit: Circuit, path: Path): Circuit {
  const piece = pieceAt(circuit, path);
  if (!movable(piece) || piece?.branches?.length) return circuit;
  return edited(circuit, path, (row, at) => {
    const own = row[at];
    if (own) row[at] = { ...fresh('y'), branches: [[own], [fresh('hose')]] };
  });
}

/** The pieces of a Y's first branch in its place. */
export function joined(circuit: Circuit, path: Path): Circuit {
  return edited(circuit, path, (row, at) => {
    const branches = row[at]?.branches ?? [];
    if (branches.length) row.splice(at, 1, ...branches.flat().filter((p) => p.kind !== 'outlet'));
  });
}

export function withLine(circuit: Circuit): Circuit {
  const line = [fresh('pickup'), fresh('hose'), fresh('controller'), fresh('hose'), fresh('outlet')];
  return { ...circuit, lines: [...structuredClone(circuit.lines), line] };
}

export function withoutLine(circuit: Circuit, number: number): Circuit {
  return circuit.lines.length > 1 ? { ...circuit, lines: circuit.lines.filter((_, k) => k !== number) } : circuit;
}
