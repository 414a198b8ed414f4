import { describe, expect, it } from 'vitest';

import type { Section } from '$lib/api/client';

import { lettering, placed, slices } from './section';

const section: Section = {
  shapes: [
    { kind: 'shaft', part: 'motor', label: 'shaft 4', x: -18, y: -2, w: 18, h: 4, guess: false },
    { kind: 'nipple', part: 'jacket', label: '', x: 10, y: 21, w: 4, h: 8, guess: true },
  ],
  measures: [
    { x1: 5, y1: -2, x2: 5, y2: 2, text: '4', guess: false },
    { x1: 0, y1: -20, x2: 74, y2: -20, text: '74', guess: false },
  ],
  left: -300,
  right: 240,
  bottom: -40,
  top: 40,
};

describe('the section', () => {
  it('keeps every size: a shaft of 4 mm is 4 mm', () => {
    const [shaft, nipple] = placed(section).shapes;
    expect([shaft?.w, shaft?.h, shaft?.y]).toEqual([18, 4, -2]);
    // what is above the axis is above on the screen
    expect(nipple?.y).toBe(-29);
    expect((nipple?.y ?? 0) + (nipple?.h ?? 0)).toBe(-21);
  });
  it('tells upright measures from level ones', () => {
    expect(placed(section).measures.map((m) => m.upright)).toEqual([true, false]);
  });
  it('cuts paper into slices without a gap', () => {
    const cut = slices(section, 262);
    expect(cut).toHaveLength(3);
    expect(cut.reduce((sum, s) => sum + s.width, 0)).toBeCloseTo(540);
    cut.slice(1).forEach((s, k) => expect(s.left).toBeCloseTo((cut[k]?.left ?? 0) + 262));
    expect(Math.max(...cut.map((s) => s.width))).toBeLessThanOrEqual(262);
  });
});

describe('where a size is written', () => {
  const upright = (high: number) =>
    ({ x1: 30, x2: 30, y1: high / 2, y2: -high / 2, upright: true }) as unknown as Parameters<typeof lettering>[0];
  it('stands along a long line, off the axis, and above a short one', () => {
    expect(lettering(upright(36))).toEqual({ x: 28.6, y: 9, turned: true });
    expect(lettering(upright(5))).toEqual({ x: 28.5, y: -4.5, turned: false });
  });
  it('two diameters of a can and its jacket are written apart', () => {
    const [can, jacket] = [lettering(upright(36)), lettering({ ...upright(42), x1: 59, x2: 59 })];
    expect(Math.abs(can.x - jacket.x)).toBeGreaterThan(10);
  });
});
