/** Geometry of the section: the core's y points up, the screen's down; paper takes slices at 1:1. */
import type { Section } from '$lib/api/client';

export type PlacedShape = Section['shapes'][number];
type PlacedMeasure = Section['measures'][number] & { upright: boolean };

/** Shapes and measures with y turned round; a size of 4 mm stays 4. */
export function placed(section: Section): { shapes: PlacedShape[]; measures: PlacedMeasure[] } {
  return {
    shapes: section.shapes.map((s) => ({ ...s, y: -(s.y + s.h) })),
    measures: section.measures.map((m) => ({ ...m, y1: -m.y1, y2: -m.y2, upright: m.x1 === m.x2 })),
  };
}

/** A line this long carries its size beside it; a shorter one above its end [mm]. */
const LONG_MM = 24;

/** Where the size of a measure is written: along a long upright line, off the axis; else above its end or its middle. */
export function lettering(m: PlacedMeasure): { x: number; y: number; turned: boolean } {
  if (!m.upright) return { x: (m.x1 + m.x2) / 2, y: m.y1 - 1.4, turned: false };
  const [top, bottom] = [Math.min(m.y1, m.y2), Math.max(m.y1, m.y2)];
  if (bottom - top < LONG_MM) return { x: m.x1 - 1.5, y: top - 2, turned: false };
  return { x: m.x1 - 1.4, y: bottom - (bottom - top) * 0.25, turned: true };
}

/** Slices no wider than this [mm], from the stern on, that cover the drawing without a gap. */
export function slices(section: Section, most: number): { left: number; width: number }[] {
  const found: { left: number; width: number }[] = [];
  for (let left = section.left; left < section.right - 1e-9; left += most) {
    found.push({ left, width: Math.min(most, section.right - left) });
  }
  return found;
}
