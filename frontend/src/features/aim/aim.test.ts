import { describe, expect, it } from 'vitest';

import type { Answer } from '$lib/api/client';

import { changesOf, needs } from './aim';

const piece = (kind: string, need: 'kept' | 'shelf' | 'buy', more = {}) => ({
  kind,
  need,
  name: '',
  shelf_id: null,
  ...more,
});
const drive = (...pieces: ReturnType<typeof piece>[]) => ({ pieces, changes: [] }) as unknown as Answer;

describe('what of a drive is tried in Match', () => {
  it('takes the changes as the server has them, and links what lies on the shelf', () => {
    const wheel = { name: '43 x 1.4', diameter: { value: 43, unit: 'mm', source: 'typed' } };
    const found = drive(piece('motor', 'kept'), piece('propeller', 'shelf', { shelf_id: 7 }), piece('pack', 'buy'));
    const changes = [
      { path: 'propeller', value: wheel },
      { path: 'pack', value: { cells: 5 } },
    ];
    expect(changesOf({ ...found, changes } as Answer)).toEqual({
      changes: { propeller: wheel, pack: { cells: 5 } },
      shelf: { propeller: 7 },
    });
  });
  it('says what to buy and what lies there', () => {
    const found = drive(
      piece('motor', 'buy'),
      piece('propeller', 'shelf', { name: '43 x 1.4' }),
      piece('pack', 'kept'),
    );
    const sold = drive(piece('motor', 'buy', { name: 'shop’s 36 x 74' }));
    expect(needs(sold).buy).toEqual(['motor shop’s 36 x 74']);
    expect(needs(found)).toEqual({ buy: ['motor'], shelf: ['43 x 1.4'], kept: ['pack'] });
  });
});
