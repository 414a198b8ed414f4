import type { HullType } from '$lib/api/client';

/** Plan views of the hull types, bow to the right, in a box of 100 x 40; 1 m of hull is 100 units. */
type Outline = { hulls: string[]; lines: string[] };

const LONGEST_M = 1.1;

/** Shapes on a unit hull: x from 0 (transom) to 1 (bow), y across in units of the length. */
const SHAPES: Record<HullType, { hulls: [number, number][][]; lines: [number, number][][] }> = {
  mono: {
    hulls: [
      [
        [0, -0.12],
        [0.55, -0.145],
        [0.82, -0.09],
        [1, 0],
        [0.82, 0.09],
        [0.55, 0.145],
        [0, 0.12],
      ],
    ],
    lines: [
      [
        [0, 0],
        [1, 0],
      ],
      [
        [0.2, -0.07],
        [0.6, -0.08],
        [0.68, 0],
        [0.6, 0.08],
        [0.2, 0.07],
        [0.2, -0.07],
      ],
    ],
  },
  catamaran: {
    hulls: [
      [
        [0, -0.17],
        [0.8, -0.17],
        [1, -0.13],
        [0.86, -0.08],
        [0.8, 0],
        [0.86, 0.08],
        [1, 0.13],
        [0.8, 0.17],
        [0, 0.17],
      ],
    ],
    lines: [
      [
        [0, -0.08],
        [0.86, -0.08],
      ],
      [
        [0, 0.08],
        [0.86, 0.08],
      ],
    ],
  },
  tunnel: {
    hulls: [
      [
        [0.08, -0.2],
        [0.7, -0.2],
        [1, -0.15],
        [0.8, -0.09],
        [0.74, 0],
        [0.8, 0.09],
        [1, 0.15],
        [0.7, 0.2],
        [0.08, 0.2],
      ],
      [
        [0, -0.03],
        [0.1, -0.04],
        [0.1, 0.04],
        [0, 0.03],
      ],
    ],
    lines: [
      [
        [0.08, -0.09],
        [0.8, -0.09],
      ],
      [
        [0.08, 0.09],
        [0.8, 0.09],
      ],
    ],
  },
  outrigger: {
    hulls: [
      [
        [0, -0.06],
        [0.75, -0.06],
        [1, -0.015],
        [1, 0.015],
        [0.75, 0.06],
        [0, 0.06],
      ],
      [
        [0.45, -0.22],
        [0.72, -0.22],
        [0.82, -0.185],
        [0.72, -0.15],
        [0.45, -0.15],
      ],
      [
        [0.45, 0.22],
        [0.72, 0.22],
        [0.82, 0.185],
        [0.72, 0.15],
        [0.45, 0.15],
      ],
    ],
    lines: [
      [
        [0.55, -0.15],
        [0.55, -0.06],
      ],
      [
        [0.66, -0.15],
        [0.66, -0.06],
      ],
      [
        [0.55, 0.15],
        [0.55, 0.06],
      ],
      [
        [0.66, 0.15],
        [0.66, 0.06],
      ],
    ],
  },
};

export function outline(type: HullType, lengthM: number): Outline {
  const shape = SHAPES[type];
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
