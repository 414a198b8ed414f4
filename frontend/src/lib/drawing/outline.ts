import type { HullType } from '$lib/api/client';

import { HULLS } from './hulls';

/** Plan views of the hull types, bow to the right, in a box of 100 x 40; 1 m of hull is 100 units. */
type Outline = { hulls: string[]; lines: string[] };

const LONGEST_M = 1.1;

export function outline(type: HullType, lengthM: number): Outline {
  const shape = HULLS[type].plan;
  const scale = (Math.min(Math.max(lengthM, 0.3), LONGEST_M) / LONGEST_M) * 96;
  const path = (points: [number, number][], close: boolean) =>
    points
      .map(([x, y], k) => `${k ? 'L' : 'M'}${(2 + x * scale).toFixed(1)} ${(20 + y * scale).toFixed(1)}`)
      .join(' ') + (close ? ' Z' : '');
  return {
    hulls: shape.hulls.map((points) => path(points, true)),
    lines: shape.lines.map((points) => path(points, false)),
  };
}
