/** Geometry of the drive line: the power's width from pack to hull, each loss leaving it downwards. */
import type { Forecast, Schemas } from '$lib/api/client';

export const STATIONS = ['pack', 'controller', 'motor', 'propeller', 'hull'] as const;
type Loss = Schemas['Loss'];
export type Station = (typeof STATIONS)[number];

type Leak = { name: string; watts: number; x: number; width: number; top: number; d: string };
type Flow = { body: string; leaks: Leak[]; centre: number; depth: number };

/** Where along the line a loss leaves, in stations: between pack and controller lie the wires, and so on. */
const PLACES: Record<Loss, number> = {
  pack: 0.14,
  wiring: 0.52,
  controller: 1.12,
  copper: 1.88,
  no_load: 2.2,
  shaft: 2.56,
  propeller: 3.22,
};

/**
 * @param width of the drawing in px; the five stations stand in the middles of five equal columns
 * @param water y of the water's surface in px
 * @param full width of the line for the whole power, in px
 */
export function flow(forecast: Forecast, width: number, water: number, full: number): Flow {
  const column = width / STATIONS.length;
  const total = Math.max(forecast.point.chemical_power_w.value ?? 0, 1);
  const centre = 46;
  const topEdge = centre - full / 2;
  let bottom = centre + full / 2;
  const leaks: Leak[] = [];
  const start = column * 0.5 - 30;
  // The lower edge steps up by each loss; the upper edge stays level.
  let d = `M${start} ${topEdge} H${width - column * 0.5} V`;
  const steps: string[] = [];
  for (const loss of forecast.losses) {
    const w = Math.max((loss.watts / total) * full, 0);
    const x = column * (0.5 + PLACES[loss.loss]);
    const next = bottom - w;
    const curve = 10 + w;
    leaks.push({
      name: loss.name,
      watts: loss.watts,
      x: x + curve,
      width: w,
      top: bottom,
      d:
        `M${x} ${next} C${x + curve * 0.7} ${next} ${x + curve + w / 2} ${next + 6} ${x + curve + w / 2} ${next + curve + 6} V${water} ` +
        `H${x + curve - w / 2} V${bottom + curve} C${x + curve - w / 2} ${bottom + 4} ${x + curve * 0.5} ${bottom} ${x} ${bottom} Z`,
    });
    steps.push(`L${x} ${bottom} L${x} ${next}`);
    bottom = next;
  }
  d += `${bottom}`;
  for (const step of steps.reverse()) {
    const [a, b] = step.split(' L');
    d += ` L${b} ${a}`;
  }
  d += ` L${start} ${centre + full / 2} Z`;
  return { body: d, leaks, centre, depth: bottom - topEdge };
}
