import { describe, expect, it } from 'vitest';

import type { Field } from '$lib/api/client';

import { read, textOf } from './partsheet';

const length: Field = {
  part: 'motor',
  key: 'can_length',
  label: 'Can length',
  help: '',
  type: 'quantity',
  dimension: 'length',
  unit: 'mm',
  low: 10,
  high: 300,
  required: true,
  estimated: true,
};
const poles: Field = {
  part: 'motor',
  key: 'poles',
  label: 'Poles',
  help: '',
  type: 'count',
  low: 2,
  high: 42,
  required: false,
  estimated: true,
};

describe('entries of a part', () => {
  it('keeps the unit that was typed before', () => {
    expect(read(length, '3,5', { value: 3, unit: 'in' })).toEqual({
      value: { value: 3.5, unit: 'in', source: 'typed' },
    });
    expect(read(length, '36', undefined)).toEqual({ value: { value: 36, unit: 'mm', source: 'typed' } });
  });
  it('says what is allowed in the unit that is typed', () => {
    expect(read(length, '5', undefined).error).toBe('10 to 300 mm');
    expect(read(length, '0.1', { value: 3, unit: 'in' }).error).toMatch(/^0\.39.* to 11\.8.* in$/);
    expect(read(length, 'long', undefined).error).toBeTruthy();
    expect(read(poles, '4.5', 4).error).toBe('a whole number from 2 to 42');
  });
  it('an empty field is a guess, unless it is required', () => {
    expect(read(poles, '', 4)).toEqual({ value: null });
    expect(read(length, ' ', undefined).error).toBe('needed');
  });
  it('shows no number for a guess', () => {
    expect(textOf({ value: 16, unit: 'degC', source: 'guessed' })).toBe('');
    expect(textOf({ value: 36, unit: 'mm' })).toBe('36');
    expect(textOf(4)).toBe('4');
    expect(textOf(null)).toBe('');
  });
});
