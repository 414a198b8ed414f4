import { describe, expect, it } from 'vitest';

import type { Circuit, SolvedCircuit } from '$lib/api/client';

import { fresh, split } from './circuit';
import { plumbing } from './plumbing';

const line = [fresh('pickup'), fresh('hose'), fresh('motor'), fresh('hose'), fresh('outlet')];
const circuit = { lines: [line] } as unknown as Circuit;
const place = (path: number[], flow: number, before: number, after: number) => ({
  path,
  kind: 'hose',
  flow_l_min: flow,
  before_c: before,
  after_c: after,
  before_kpa: 3,
  after_kpa: 2,
});

describe('the circuit in the boat', () => {
  it('lays a line from stern to bow, without a gap', () => {
    const { spots, runs, wide, high } = plumbing(circuit, undefined);
    expect(spots.map((s) => s.piece.kind)).toEqual(['pickup', 'hose', 'motor', 'hose', 'outlet']);
    for (let k = 1; k < spots.length; k++) expect(spots[k]!.x).toBeGreaterThan(spots[k - 1]!.x);
    const through = runs.filter((r) => !r.key.endsWith('<'));
    for (let k = 1; k < through.length; k++) expect(through[k]!.from).toEqual(through[k - 1]!.to);
    expect(through.at(-1)!.to.x).toBeCloseTo(wide, 6);
    expect(high).toBe(104); // one lane
  });

  it('lays branches beside each other and brings them together, their flows added', () => {
    const forked = split(circuit, [0, 2]);
    const solved = {
      places: [place([0, 1], 0.6, 15, 15), place([0, 2, 0, 0], 0.4, 15, 25), place([0, 2, 1, 0], 0.2, 15, 18)],
    } as unknown as SolvedCircuit;
    const { spots, runs, high } = plumbing(forked, solved);
    const [motor, beside] = [spots.find((s) => s.key === '0.2.0.0')!, spots.find((s) => s.key === '0.2.1.0')!];
    expect(motor.y).not.toBe(beside.y);
    expect(high).toBe(208);
    const after = runs.find((r) => r.key === '0.3<')!;
    expect(after.flow).toBeCloseTo(0.6, 9); // 0.4 + 0.2
    expect(after.c).toBeCloseTo((0.4 * 25 + 0.2 * 18) / 0.6, 9);
  });

  it('gives each line a lane of its own', () => {
    const two = { lines: [line, line] } as unknown as Circuit;
    expect(new Set(plumbing(two, undefined).spots.map((s) => s.y)).size).toBe(2);
  });
});
