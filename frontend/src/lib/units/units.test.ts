import { beforeEach, describe, expect, it } from 'vitest';

import { fromSi, grouped, toSi, trimmed, units } from './units.svelte';

describe('units', () => {
  beforeEach(() => {
    units.system = 'metric';
  });

  it('groups from five figures on', () => {
    expect(grouped(8417, 0)).toBe('8417');
    expect(grouped(23900, 0)).toBe('23\u202f900');
    expect(grouped(-0.04, 1)).toBe('0.0');
    expect(grouped(-3.25, 1)).toBe('−3.3');
  });

  it('shows a speed in both systems', () => {
    // 1 mph = 0.44704 m/s by definition
    expect(units.text(20, 'speed')).toBe('72.0 km/h');
    units.system = 'imperial';
    expect(units.text(0.44704 * 50, 'speed')).toBe('50.0 mph');
  });

  it('shows temperatures with their offset: 37.7778 degC is 100 degF', () => {
    units.system = 'imperial';
    expect(units.text(37.7778, 'temperature')).toBe('100 °F');
  });

  it('keeps what was typed in its own unit', () => {
    expect(units.typed({ value: 42, unit: 'mm' })).toEqual({ text: '42', unit: 'mm' });
    expect(units.typed({ value: 2200, unit: 'rpm/V' })).toEqual({ text: '2200', unit: 'rpm/V' });
    units.system = 'imperial';
    expect(units.typed({ value: 25.4, unit: 'mm' })).toEqual({ text: '1.000', unit: 'in' });
    expect(units.typed({ value: 1.75, unit: 'in' })).toEqual({ text: '1.75', unit: 'in' });
  });

  it('goes to SI and back', () => {
    for (const unit of ['mm', 'in', 'g', 'lb', 'km/h', 'kn', 'degF', 'A']) {
      expect(fromSi(toSi({ value: 12.5, unit }), unit)).toBeCloseTo(12.5, 9);
    }
    expect(toSi({ value: 100, unit: 'degF' })).toBeCloseTo(37.7778, 4);
  });

  it('shows none as a dash', () => {
    expect(units.text(null, 'speed')).toBe('– km/h');
    expect(trimmed(1.4000001)).toBe('1.4');
  });

  it('shows a difference without the offset of its unit, and no sign where nothing is seen', () => {
    units.system = 'metric';
    expect(units.change(1, 'speed')).toBe('+3.6');
    expect(units.change(-2.4, 'temperature')).toBe('−2');
    expect(units.change(-0.3, 'temperature')).toBe('±0');
    expect(units.change(0, 'speed')).toBe('±0.0');
    units.system = 'imperial';
    expect(units.change(10, 'temperature')).toBe('+18');
    units.system = 'metric';
  });
});
