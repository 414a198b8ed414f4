/** The boat on the water, to scale: places in metres become places on the sheet. */
import type { Quantity, SetupDocument, TrimCurve, TrimKnob, TrimSizes } from '$lib/api/client';
import { HULLS } from '$lib/drawing/hulls';
import type { KnobSpec } from '$lib/ui/knob';
import { fromSi, toSi } from '$lib/units/units.svelte';

/** What stands at a path of a document, in the core's unit; undefined where nobody wrote it down. */
export function si(document: SetupDocument, path: string): number | undefined {
  const given = quantity(document, path);
  return given ? toSi(given) : undefined;
}

export function quantity(document: SetupDocument, path: string): Quantity | undefined {
  const [part, key] = path.split('.') as [string, string];
  const node = (document as unknown as Record<string, Record<string, unknown> | null>)[part];
  return (node?.[key] ?? undefined) as Quantity | undefined;
}

/** How far a knob is pulled: six of its steps each way, and no further than it can go. */
export function knobSpec(knob: TrimKnob, now: SetupDocument, saved: SetupDocument): KnobSpec | undefined {
  const value = quantity(now, knob.path);
  if (!value) return undefined;
  const before = quantity(saved, knob.path) ?? value;
  const [low, high, step] = [knob.low, knob.high, knob.step].map((v) => fromSi(v, value.unit)) as [
    number,
    number,
    number,
  ];
  const middle = fromSi(toSi(before), value.unit);
  const near = (end: number): number => Math.round(end * 1e6) / 1e6;
  return {
    path: knob.path,
    label: knob.label,
    value,
    saved: before,
    reach: [near(Math.max(middle - 6 * step, low)), near(Math.min(middle + 6 * step, high))],
    step: near(step / 2),
    allowed: [near(low), near(high)],
  };
}

/** A knob that nobody wrote down yet, where it starts. */
export function begin(knob: TrimKnob): Quantity {
  const value = fromSi(knob.begin, knob.unit);
  const shown = knob.path.startsWith('placement.') ? Math.round(value) : Number(value.toFixed(2));
  return { value: shown, unit: knob.unit, source: 'typed' } as Quantity;
}

/** How a measure is shown: its dimension on the page, its digits, and a unit where the page has none. */
export function shownAs(curve: TrimCurve): { dimension: string; digits: number; unit?: string } {
  if (curve.dimension === 'ratio') return { dimension: 'percent', digits: 1 };
  if (curve.dimension === 'angle') return { dimension: 'angle', digits: 1, unit: '°/s' };
  return { dimension: curve.dimension, digits: curve.dimension === 'speed' ? 1 : 0 };
}

export type Point = [number, number];
type Side = {
  hull: Point[];
  propeller: Point;
  radius: number;
  rudder: Point[];
  pack: Point[] | undefined;
  centre: Point;
  pressed: Point;
};

/** A boat from the side, bow to the right, bow up by its trim about the foot of the transom; metres, y up. */
export function side(document: SetupDocument, sizes: TrimSizes): Side {
  const length = sizes.length_m;
  const profile = HULLS[sizes.hull_type].profile;
  const angle = (sizes.trim_deg * Math.PI) / 180;
  const turned = ([x, y]: Point): Point => [
    x * Math.cos(angle) - y * Math.sin(angle),
    x * Math.sin(angle) + y * Math.cos(angle),
  ];
  const at = (x: number, y: number): Point => turned([x, y]);
  const scaled = (points: Point[]): Point[] => points.map(([x, y]) => at(x * length, y * length));
  const radius = sizes.propeller_m / 2;
  const behind = -0.09 * length;
  const depth = si(document, 'hull.shaft_depth') ?? 0;
  const rudder = si(document, 'hull.rudder_depth') ?? 0.07 * length;
  const pack = si(document, 'placement.pack');
  const [wide, high] = [0.11 * length, 0.028 * length];
  return {
    hull: [...scaled(profile.keel), ...scaled(profile.deck)],
    propeller: at(behind, -depth),
    radius,
    rudder: [
      at(behind - 0.03 * length, 0.05 * length),
      at(behind - 0.03 * length - 0.028 * length, 0.05 * length),
      at(behind - 0.03 * length - 0.022 * length, -rudder),
      at(behind - 0.03 * length - 0.004 * length, -rudder),
    ],
    pack:
      pack === undefined
        ? undefined
        : [at(pack - wide, 0.035 * length), at(pack + wide, 0.035 * length), at(pack + wide, 0.035 * length + high), at(pack - wide, 0.035 * length + high)], // prettier-ignore
    centre: at(sizes.centre_m, 0.05 * length),
    pressed: at(0.75 * sizes.centre_m, 0),
  };
}

/** How deep a turn fin stands; one whose angle is written has a usual depth. */
function finDepth(document: SetupDocument, length: number): number {
  return si(document, 'hull.fin_depth') ?? (si(document, 'hull.fin_angle') === undefined ? 0 : 0.06 * length);
}

type Stern = { hull: Point[]; propeller: Point; radius: number; rudder: Point[]; fin: Point[] | undefined };

/** The same from behind; metres, y up. */
export function stern(document: SetupDocument, sizes: TrimSizes): Stern {
  const half = sizes.beam_m / 2;
  const rise = half * Math.tan((sizes.deadrise_deg * Math.PI) / 180);
  const high = 0.13 * sizes.length_m;
  const { twin } = HULLS[sizes.hull_type];
  const tunnel = 0.35 * half;
  const offset = si(document, 'hull.rudder_offset') ?? 0;
  const depth = si(document, 'hull.rudder_depth') ?? 0.07 * sizes.length_m;
  const fin = finDepth(document, sizes.length_m);
  const lean = ((si(document, 'hull.fin_angle') ?? 0) * Math.PI) / 180;
  const thick = 0.006 * sizes.length_m;
  return {
    hull: twin
      ? [[-half, 0], [-tunnel, 0.02 * sizes.length_m], [-tunnel, 0.4 * high], [tunnel, 0.4 * high], [tunnel, 0.02 * sizes.length_m], [half, 0], [half, high * 0.8], [0.5 * half, high], [-0.5 * half, high], [-half, high * 0.8]] // prettier-ignore
      : [[0, 0], [half, rise], [0.96 * half, high * 0.8], [0.5 * half, high], [-0.5 * half, high], [-0.96 * half, high * 0.8], [-half, rise]], // prettier-ignore
    propeller: [0, -(si(document, 'hull.shaft_depth') ?? 0)],
    radius: sizes.propeller_m / 2,
    rudder: [[offset - thick, 0.04 * sizes.length_m], [offset + thick, 0.04 * sizes.length_m], [offset + thick, -depth], [offset - thick, -depth]], // prettier-ignore
    fin: fin > 0 ? [[half, rise], [half + 2 * thick, rise], [half + 2 * thick - fin * Math.sin(lean), rise - fin * Math.cos(lean)], [half - fin * Math.sin(lean), rise - fin * Math.cos(lean)]] : undefined, // prettier-ignore
  };
}

type Plan = {
  hull: Point[][];
  propeller: Point;
  radius: number;
  rudder: Point[];
  fins: Point[][];
  tabs: Point[][];
  pack: Point[] | undefined;
  /** How far the rudder stands behind the transom. */
  behind: number;
};

const mirrored = (points: Point[]): Point[] => points.map(([x, y]) => [x, -y]);

/** The boat from above; metres, x forward from the transom, y to the right. */
export function plan(document: SetupDocument, sizes: TrimSizes): Plan {
  const [length, half] = [sizes.length_m, sizes.beam_m / 2];
  const setback = si(document, 'hull.rudder_setback') ?? 0.12 * length;
  const offset = si(document, 'hull.rudder_offset') ?? 0;
  const aside = si(document, 'hull.drive_offset') ?? 0;
  const toe = ((si(document, 'hull.rudder_toe') ?? 0) * Math.PI) / 180;
  const chord = si(document, 'hull.rudder_chord') ?? 0.035 * length;
  const thick = 0.006 * length;
  // Turned about its pivot, at a quarter of its chord: a rudder that turns to the right has its rear edge to the right.
  const turned = ([x, y]: Point): Point => [
    -setback + x * Math.cos(toe) + y * Math.sin(toe),
    offset - x * Math.sin(toe) + y * Math.cos(toe),
  ];
  const side = document.hull.fin_side;
  const depth = finDepth(document, length);
  const along = si(document, 'hull.fin_chord') ?? 0.06 * length;
  const wide = half * HULLS[sizes.hull_type].fin[0];
  const lean = Math.max(
    (depth ?? 0) * Math.tan((Math.abs(si(document, 'hull.fin_angle') ?? 0) * Math.PI) / 180),
    thick,
  );
  const at = HULLS[sizes.hull_type].fin[1] * length;
  const fin: Point[] = [[at - along, wide], [at, wide], [at, wide - lean], [at - along, wide - lean]]; // prettier-ignore
  const tab: Point[] = [[-0.035 * length, 0.3 * half], [0, 0.3 * half], [0, 0.62 * half], [-0.035 * length, 0.62 * half]]; // prettier-ignore
  const pack = si(document, 'placement.pack');
  const [lengthwise, across] = [0.11 * length, HULLS[sizes.hull_type].pack * half];
  const rear = 0.09 * length;
  return {
    hull: HULLS[sizes.hull_type].outline.map((part) => part.map(([x, y]): Point => [x * length, y * half])),
    propeller: [-rear, aside],
    radius: sizes.propeller_m / 2,
    rudder: ([[0.25 * chord, -thick / 2], [0.25 * chord, thick / 2], [-0.75 * chord, thick], [-0.75 * chord, -thick]] as Point[]).map(turned), // prettier-ignore
    fins: depth <= 0 ? [] : side === 'both' ? [fin, mirrored(fin)] : [side === 'left' ? mirrored(fin) : fin],
    tabs: si(document, 'hull.tab_angle') === undefined ? [] : [tab, mirrored(tab)],
    pack:
      pack === undefined
        ? undefined
        : [[pack - lengthwise, -across], [pack + lengthwise, -across], [pack + lengthwise, across], [pack - lengthwise, across]], // prettier-ignore
    behind: Math.max(setback + 0.75 * chord, rear + 0.02 * length),
  };
}
