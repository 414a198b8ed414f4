import { describe, expect, it } from 'vitest';

import { lessonsOf } from './lessons';

describe('whose runs a forecast stands on', () => {
  it('names the other boats where this one has none', () => {
    expect(lessonsOf({ known_runs: 12, known_here: 3 })).toBe('from 12 runs');
    expect(lessonsOf({ known_runs: 12, known_here: 0 })).toBe('from 12 runs of your other boats');
    expect(lessonsOf({ known_runs: 1, known_here: 0 })).toBe('from 1 run of your other boats');
  });
});
