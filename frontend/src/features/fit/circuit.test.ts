import { describe, expect, it } from 'vitest';

import type { Circuit } from '$lib/api/client';

import { changed, fresh, inserted, joined, moved, pieceAt, split, withLine, without, withoutLine } from './circuit';

const circuit: Circuit = {
  format: 'kunstflug-circuit',
  version: 2,
  lines: [[fresh('pickup'), fresh('hose'), fresh('motor'), fresh('controller'), fresh('outlet')]],
};
const kinds = (c: Circuit, line = 0) => c.lines[line]?.map((p) => p.kind);

describe('the water circuit', () => {
  it('moves a piece along its row, but never past pickup or outlet', () => {
    const one = moved(circuit, [0, 2], 1);
    expect(kinds(one.circuit)).toEqual(['pickup', 'hose', 'controller', 'motor', 'outlet']);
    expect(one.path).toEqual([0, 3]);
    expect(moved(one.circuit, one.path, 1).circuit).toBe(one.circuit);
    expect(moved(circuit, [0, 0], 1).circuit).toBe(circuit);
    expect(moved(circuit, [0, 1], -1).circuit).toBe(circuit);
    // the one it came from is untouched
    expect(kinds(circuit)?.[2]).toBe('motor');
  });
  it('puts in behind, and before an outlet', () => {
    expect(kinds(inserted(circuit, [0, 2], 'hose'))?.[3]).toBe('hose');
    expect(kinds(inserted(circuit, [0, 4], 'hose'))?.slice(-2)).toEqual(['hose', 'outlet']);
  });
  it('takes out what may go', () => {
    expect(kinds(without(circuit, [0, 1]))).toHaveLength(4);
    expect(without(circuit, [0, 0])).toBe(circuit);
  });
  it('splits and joins again', () => {
    const y = split(circuit, [0, 2]);
    expect(y.lines[0]?.[2]?.branches?.map((row) => row.map((p) => p.kind))).toEqual([['motor'], ['hose']]);
    expect(pieceAt(y, [0, 2, 1, 0])?.kind).toBe('hose');
    const wide = changed(y, [0, 2, 1, 0], { bore_mm: 3 });
    expect(pieceAt(wide, [0, 2, 1, 0])?.bore_mm).toBe(3);
    expect(pieceAt(y, [0, 2, 1, 0])?.bore_mm).toBe(4);
    const longer = inserted(y, [0, 2, 0, 0], 'hose');
    expect(longer.lines[0]?.[2]?.branches?.[0]).toHaveLength(2);
    expect(kinds(joined(y, [0, 2]))).toEqual(['pickup', 'hose', 'motor', 'hose', 'controller', 'outlet']);
  });
  it('has a line each', () => {
    const two = withLine(circuit);
    expect(two.lines).toHaveLength(2);
    expect(kinds(withoutLine(two, 0))).toEqual(['pickup', 'hose', 'controller', 'hose', 'outlet']);
    expect(withoutLine(circuit, 0)).toBe(circuit);
  });
});
