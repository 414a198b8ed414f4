import { describe, expect, it } from 'vitest';

import type { Answer, SetupDocument } from '$lib/api/client';

import { changesOf, needs } from './aim';

const piece = (kind: string, need: 'kept' | 'shelf' | 'buy', more = {}) => ({
  kind,
  need,
  name: '',
  shelf_id: null,
  value: null,
  ...more,
});
const drive = (...pieces: ReturnType<typeof piece>[]) =>
  ({
    kv_rpm_per_v: 1737.4,
    diameter_m: 0.04321,
    pitch_ratio: 1.4,
    cells: 5,
    controller_class_a: 150,
    pieces,
  }) as Answer;
const document = { propeller: { diameter: { value: 42, unit: 'mm' } } } as SetupDocument;
const ALL = ['motor', 'propeller', 'pack', 'controller'];

describe('what of a drive is tried in Match', () => {
  it('rounds what is bought to sizes one can buy', () => {
    expect(changesOf(drive(...ALL.map((kind) => piece(kind, 'buy'))), document)).toEqual({
      changes: {
        'motor.kv': { value: 1750, unit: 'rpm/V', source: 'typed' },
        'propeller.diameter': { value: 43, unit: 'mm', source: 'typed' },
        'propeller.pitch_ratio': { value: 1.4, unit: '1', source: 'typed' },
        'pack.cells': 5,
        'controller.continuous_current': { value: 150, unit: 'A', source: 'typed' },
      },
      shelf: {},
    });
  });
  it('leaves alone what is kept, and takes a part of the shelf as it is', () => {
    const wheel = { name: '43 x 1.4', diameter: { value: 43, unit: 'mm', source: 'typed' } };
    const found = drive(piece('motor', 'kept'), piece('propeller', 'shelf', { value: wheel, shelf_id: 7 }));
    expect(changesOf(found, document)).toEqual({ changes: { propeller: wheel }, shelf: { propeller: 7 } });
  });
  it('keeps the unit that the propeller was typed in', () => {
    const inches = { propeller: { diameter: { value: 1.65, unit: 'in' } } } as SetupDocument;
    // 43 mm over 25.4 mm an inch
    expect(changesOf(drive(piece('propeller', 'buy')), inches).changes['propeller.diameter']).toMatchObject({
      value: 1.6929,
      unit: 'in',
    });
  });
  it('says what to buy and what lies there', () => {
    const found = drive(
      piece('motor', 'buy'),
      piece('propeller', 'shelf', { name: '43 x 1.4' }),
      piece('pack', 'kept'),
    );
    expect(needs(found)).toEqual({ buy: ['motor'], shelf: ['43 x 1.4'], kept: ['pack'] });
  });
});
