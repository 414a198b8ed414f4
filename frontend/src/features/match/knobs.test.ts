import { describe, expect, it } from 'vitest';

import type { Field, SetupDocument } from '$lib/api/client';

import { knobs } from './knobs';

const document = {
  pack: { cells: 4, capacity: { value: 5, unit: 'Ah' } },
  motor: { kv: { value: 2200, unit: 'rpm/V' } },
  propeller: { diameter: { value: 42, unit: 'mm' }, pitch_ratio: { value: 1.4, unit: '1' }, pitch: null },
  all_up_mass: { value: 2100, unit: 'g' },
} as unknown as SetupDocument;
const fields = [
  { part: 'motor', key: 'kv', unit: 'rpm/V', low: 50, high: 20000 },
  { part: 'propeller', key: 'diameter', unit: 'mm', low: 10, high: 200 },
] as Field[];

describe('knobs', () => {
  it('reaches either side of the saved value, in round steps', () => {
    const [kv] = knobs('motor', document, document, fields);
    expect(kv?.reach).toEqual([990, 4180]);
    expect(kv?.allowed).toEqual([50, 20000]);
  });
  it('shows the pitch the way it was given', () => {
    expect(knobs('propeller', document, document, fields).map((k) => k.path)).toEqual([
      'propeller.diameter',
      'propeller.pitch_ratio',
    ]);
  });
  it('steps in the unit that was typed', () => {
    const capacity = knobs('pack', document, document, fields)[1];
    expect(capacity?.step).toBeCloseTo(0.1);
    expect(capacity?.reach).toEqual([2, 10]);
  });
});
