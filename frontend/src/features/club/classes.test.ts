import { afterEach, describe, expect, it } from 'vitest';

import { units } from '$lib/units/units.svelte';

import { fields, said } from './classes';

describe('a class', () => {
  afterEach(() => units.system === 'imperial' && units.switch());

  it('is said in one line, in the units of the racer', () => {
    const rule = { most_cells: 4, most_length_m: 0.62, least_mass_kg: 1.8 };
    expect(said(rule, units)).toBe('at most 4 cells, hull at most 620.0 mm, at least 1800 g');
    units.switch();
    expect(said(rule, units)).toBe('at most 4 cells, hull at most 24.409 in, at least 63.5 oz');
    expect(said({}, units)).toBe('everything is free');
  });

  it('is typed in the units of the racer and kept in those of the core', () => {
    for (const system of ['metric', 'imperial']) {
      for (const field of fields(units))
        for (const value of [0.5, 4, 25]) expect(field.si(field.text(value)), system + field.key).toBeCloseTo(value, 3);
      units.switch();
    }
    expect(
      fields(units)
        .find((f) => f.key === 'least_mass_kg')
        ?.si('1800'),
    ).toBeCloseTo(1.8);
    expect(
      fields(units)
        .find((f) => f.key === 'most_length_m')
        ?.si('620,5'),
    ).toBeCloseTo(0.6205);
  });
});
