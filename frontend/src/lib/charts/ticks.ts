/** Round numbers in the racer's unit along an axis that runs in the core's. */
import { scaleLinear } from 'd3-scale';

import { units } from '$lib/units/units.svelte';

type Tick = { at: number; text: string };

export function unitTicks(domain: number[], dimension: string, count: number): Tick[] {
  const { factor, offset } = units.unit(dimension);
  const ends = domain.map((value) => value * factor + offset);
  const shown = scaleLinear(ends, [0, 1]);
  const text = shown.tickFormat(count);
  return shown.ticks(count).map((number) => ({ at: (number - offset) / factor, text: text(number) }));
}
