import { describe, expect, it } from 'vitest';

import type { SetupDocument, TrimKnob, TrimSizes } from '$lib/api/client';

import { begin, knobSpec, plan, shownAs, side, stern } from './trim';

const SIZES: TrimSizes = {
  hull_type: 'mono', length_m: 0.6, beam_m: 0.18, deadrise_deg: 20, centre_m: 0.18, trim_deg: 4, propeller_m: 0.04,
  mass_kg: 2, guessed: [],
}; // prettier-ignore

function boat(hull: object, placement: object): SetupDocument {
  return { hull, placement } as unknown as SetupDocument;
}
const mm = (value: number) => ({ value, unit: 'mm', source: 'typed' });
const deg = (value: number) => ({ value, unit: 'deg', source: 'typed' });

describe('the boat on the water', () => {
  it('stands bow up about the foot of its transom', () => {
    const drawn = side(boat({}, {}), SIZES);
    expect(drawn.hull[0]).toEqual([0, 0]);
    const [x, y] = drawn.hull[1]!;
    expect(Math.atan2(y, x) * (180 / Math.PI)).toBeCloseTo(4, 6);
    expect(drawn.pack).toBeUndefined();
  });

  it('has its pack, propeller and rudder where they are written', () => {
    const level = { ...SIZES, trim_deg: 0 };
    const drawn = side(boat({ shaft_depth: mm(12), rudder_depth: mm(50) }, { pack: mm(200) }), level);
    expect((drawn.pack![0]![0] + drawn.pack![1]![0]) / 2).toBeCloseTo(0.2, 9);
    expect(drawn.propeller[1]).toBeCloseTo(-0.012, 9);
    expect(Math.min(...drawn.rudder.map((p) => p[1]))).toBeCloseTo(-0.05, 9);
    expect(drawn.centre[0]).toBeCloseTo(0.18, 9);
  });

  it('shows offset, deadrise and fin from behind', () => {
    const drawn = stern(boat({ rudder_offset: mm(-30), fin_depth: mm(40), fin_angle: deg(10) }, {}), SIZES);
    expect(drawn.rudder.reduce((sum, p) => sum + p[0], 0) / 4).toBeCloseTo(-0.03, 9);
    expect(drawn.hull[1]![1] / 0.09).toBeCloseTo(Math.tan((20 * Math.PI) / 180), 9);
    const [top, foot] = [drawn.fin![0]!, drawn.fin![3]!];
    expect(Math.hypot(foot[0] - top[0], foot[1] - top[1])).toBeCloseTo(0.04, 9);
    expect(foot[0]).toBeLessThan(top[0]); // its lower edge inwards
    expect(stern(boat({}, {}), SIZES).fin).toBeUndefined();
  });
});

describe('a knob', () => {
  const knob = {
    path: 'placement.pack', label: 'Pack position', dimension: 'length', unit: 'mm', step: 0.005, low: 0, high: 2.5,
  } as TrimKnob; // prettier-ignore

  it('goes six steps each way from where it was saved, in the unit it was typed in', () => {
    const saved = boat({}, { pack: mm(20) });
    const spec = knobSpec(knob, boat({}, { pack: mm(35) }), saved);
    expect(spec?.reach).toEqual([0, 50]);
    expect(spec?.step).toBe(2.5);
    expect(knobSpec(knob, boat({}, {}), saved)).toBeUndefined();
  });

  it('begins where it is usual, in its own unit', () => {
    expect(begin({ ...knob, begin: 0.1803 })).toMatchObject({ value: 180, unit: 'mm' });
    const angle = { ...knob, path: 'hull.fin_angle', unit: 'deg', low: -8, begin: 0 } as TrimKnob;
    expect(begin(angle)).toMatchObject({ value: 0, unit: 'deg' });
    const stick = { ...knob, path: 'controller.full_throttle', unit: '%', begin: 1 } as TrimKnob;
    expect(begin(stick)).toMatchObject({ value: 100, unit: '%' });
  });
});

describe('from above', () => {
  it('has rudder, drive and fin on their sides', () => {
    const hull = { rudder_offset: mm(30), rudder_setback: mm(70), drive_offset: mm(-4), fin_depth: mm(40) };
    const drawn = plan(boat({ ...hull, fin_side: 'left' }, { pack: mm(200) }), SIZES);
    const middle = (points: [number, number][], k: 0 | 1): number =>
      points.reduce((sum, p) => sum + p[k], 0) / points.length;
    expect(middle(drawn.rudder, 1)).toBeCloseTo(0.03, 9);
    expect(drawn.propeller[1]).toBeCloseTo(-0.004, 9);
    expect(middle(drawn.fins[0]!, 1)).toBeLessThan(-0.08);
    expect(middle(drawn.pack!, 0)).toBeCloseTo(0.2, 9);
    expect(drawn.behind).toBeGreaterThan(0.07);
    expect(plan(boat({ ...hull, fin_side: 'both' }, {}), SIZES).fins).toHaveLength(2);
    expect(plan(boat({}, {}), SIZES).fins).toEqual([]);
  });

  it('turns the rudder at rest about its pivot', () => {
    const drawn = plan(boat({ rudder_toe: deg(5) }, {}), SIZES);
    const [front, rear] = [drawn.rudder[0]!, drawn.rudder[3]!];
    expect(rear[1]).toBeGreaterThan(front[1]); // its rear edge to the right turns to the right
  });

  it('shows what has no unit of its own in percent and degrees a second', () => {
    expect(shownAs({ dimension: 'ratio' } as never)).toMatchObject({ dimension: 'percent' });
    expect(shownAs({ dimension: 'angle' } as never).unit).toBe('°/s');
    expect(shownAs({ dimension: 'speed' } as never)).toEqual({ dimension: 'speed', digits: 1 });
  });
});
