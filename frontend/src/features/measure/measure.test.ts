import { describe, expect, it } from 'vitest';

import { converted } from './convert';
import { sure } from './measure.svelte';

describe('the bench', () => {
  it('converts as the units are defined', () => {
    const of = (kind: string, value: number, unit: string) => Object.fromEntries(converted(kind, value, unit));
    // 10 hp is about 7.5 kW; 100 degF are 37.7778 degC; an inch is 25.4 mm
    expect(of('power', 10, 'hp').kW).toBeCloseTo(7.457, 3);
    expect(of('temperature', 100, 'degF')['°C']).toBeCloseTo(37.7778, 4);
    expect(of('length', 3 / 16, 'in').mm).toBeCloseTo(4.7625, 6);
    expect(of('speed', 100, 'km/h').mph).toBeCloseTo(62.1371, 4);
    expect(of('torque', 1, 'ozf in').Nm).toBeCloseTo(0.00706155, 8);
    expect(converted('torque', 1, 'stone')).toEqual([]);
  });
  it('shows no more digits than it is sure of', () => {
    expect(sure(2209.71, 25.3)).toEqual(['2210', '25']);
    expect(sure(4.7625, 0.0214)).toEqual(['4.763', '0.021']);
    expect(sure(18.3, 0)).toEqual(['18.3', '0']);
  });
});
