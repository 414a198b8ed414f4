import { describe, expect, it } from 'vitest';

import type { Field } from '$lib/api/client';

import { documentOf, outside } from './boat.svelte';

const fields = [
  { part: 'hull', key: 'hull_type', type: 'choice', default: 'mono', required: false },
  { part: 'hull', key: 'length', type: 'quantity', unit: 'mm', required: true },
  { part: 'pack', key: 'cells', type: 'count', required: true },
  { part: 'pack', key: 'c_rating', type: 'quantity', unit: '1', required: false },
  { part: 'conditions', key: 'water', type: 'quantity', unit: 'degC', required: true },
] as Field[];
const unitOf = (path: string) => (path === 'hull.length' ? 'in' : path === 'all_up_mass' ? 'g' : '1');

describe('outside', () => {
  it('says the range in the unit that was typed', () => {
    const length = { ...fields[1], low: 150, high: 2500 } as Field;
    expect(outside(length, 24, 'in')).toBeUndefined();
    // 150 mm / 25.4 mm an inch
    expect(outside(length, 2, 'in')).toBe('5.90551 to 98.4252 in');
  });
});

describe('documentOf', () => {
  it('makes a document in the units typed, and leaves out what is to be guessed', () => {
    const typed = { 'hull.length': '24,5', 'pack.cells': '4', 'propeller.pitch_ratio': '1.4', all_up_mass: '2100' };
    const made = documentOf(typed, fields, unitOf);
    expect(made.missing).toEqual([]);
    expect(made.wrong).toEqual({});
    expect(made.document).toEqual({
      hull: { hull_type: 'mono', length: { value: 24.5, unit: 'in', source: 'typed' } },
      pack: { cells: 4 },
      all_up_mass: { value: 2100, unit: 'g', source: 'typed' },
    });
  });
  it('says what is missing and what is no number', () => {
    const made = documentOf({ 'pack.cells': '4.5', 'hull.length': 'long' }, fields, unitOf);
    expect(made.wrong).toEqual({ 'pack.cells': 'a whole number', 'hull.length': 'a number' });
    expect(made.missing).toEqual(['propeller.pitch_ratio', 'all_up_mass']);
  });
});
