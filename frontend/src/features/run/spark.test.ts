import { describe, expect, it } from 'vitest';

import { spark } from './spark';

describe('spark', () => {
  it('goes from edge to edge, low to high', () => {
    expect(spark([0, 1], 100, 20)).toBe('M0.0 18.0L100.0 2.0');
  });
  it('leaves holes open', () => {
    expect(spark([0, null, 2], 100, 20)).toBe('M0.0 18.0M100.0 2.0');
  });
  it('draws a level line in the box, and nothing of nothing', () => {
    expect(spark([5, 5], 100, 20)).toBe('M0.0 18.0L100.0 18.0');
    expect(spark([null, 3], 100, 20)).toBe('');
  });
});
