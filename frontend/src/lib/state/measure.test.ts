import { describe, expect, it } from 'vitest';

import type { SetupDocument } from '$lib/api/client';

import { measurable } from './measure';

const document = { pack: { cells: 4 } } as SetupDocument;

describe('measurable', () => {
  it('names the field that a measurement goes into', () => {
    expect(measurable('pack_resistance_ohm', document)).toMatchObject({ path: 'pack.cell_resistance', unit: 'mohm' });
    expect(measurable('no_load_current_a', document)?.label).toContain('4 cells');
  });
  it('offers nothing for what no bench can measure', () => {
    expect(measurable('planing_drag_ratio', document)).toBeUndefined();
  });
});
