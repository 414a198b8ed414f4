import { describe, expect, it } from 'vitest';

import type { Answer, SetupDocument } from '$lib/api/client';

import { changesOf } from './aim';

const answer = { kv_rpm_per_v: 1737.4, diameter_m: 0.04321, pitch_ratio: 1.4, cells: 5 } as Answer;
const document = { propeller: { diameter: { value: 42, unit: 'mm' } } } as SetupDocument;

describe('changesOf', () => {
  it('rounds to sizes one can buy', () => {
    expect(changesOf(answer, document, [])).toEqual({
      'motor.kv': { value: 1750, unit: 'rpm/V', source: 'typed' },
      'propeller.diameter': { value: 43, unit: 'mm', source: 'typed' },
      'propeller.pitch_ratio': { value: 1.4, unit: '1', source: 'typed' },
      'pack.cells': 5,
    });
  });
  it('leaves alone what is locked', () => {
    expect(Object.keys(changesOf(answer, document, ['motor', 'pack']))).toEqual([
      'propeller.diameter',
      'propeller.pitch_ratio',
    ]);
  });
  it('keeps the unit that the propeller was typed in', () => {
    const inches = { propeller: { diameter: { value: 1.65, unit: 'in' } } } as SetupDocument;
    // 43 mm over 25.4 mm an inch
    expect(changesOf(answer, inches, [])['propeller.diameter']).toMatchObject({ value: 1.6929, unit: 'in' });
  });
});
