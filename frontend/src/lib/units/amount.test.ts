import { describe, expect, it } from 'vitest';

import { amountOf } from './amount';

describe('what a racer types', () => {
  it.each([
    ['43,5', '', 43.5],
    [' 43.5 ', 'mm', 43.5],
    ['.5', '', 0.5],
    ['7,', '', 7],
    ['-3', 'deg', -3],
    ['−3', 'deg', -3],
    ['1 3/4', 'in', 1.75],
    ['1 3/4 in', 'mm', 44.45],
    ['3/4"', 'mm', 19.05],
    ['42mm', 'mm', 42],
    ['4.2 cm', 'mm', 42],
    ['23 900', 'rpm', 23900],
    ['23\u202f900 rpm', 'rpm', 23900],
    ['80 mph', 'km/h', 128.74752],
    ['140 °F', 'degC', 60],
    ['60C', 'degC', 60],
    ['5 Ah', 'mAh', 5000],
    ['1e3', '', 1000],
    ['40 %', '%', 40],
  ])('%s in %s is %d', (text, unit, value) => expect(amountOf(text, unit)).toBeCloseTo(value, 9));

  it.each([
    ['', ''],
    ['0x2A', ''],
    ['abc', 'mm'],
    ['42 g', 'mm'],
    ['42 mm', ''],
    ['1.2.3', ''],
    ['1,234.5', ''],
    ['1 3/0', 'in'],
    ['1.5 3/4', 'in'],
    ['Infinity', ''],
    ['NaN', ''],
    ['12 34', ''],
    ['/4', ''],
  ])('%s is no number in %s', (text, unit) => expect(amountOf(text, unit)).toBeUndefined());
});
