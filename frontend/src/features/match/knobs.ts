/** Which knobs hang under which station, and how far they reach. */
import type { Field, Quantity, SetupDocument } from '$lib/api/client';
import type { KnobSpec } from '$lib/ui/knob';
import { fromSi, toSi } from '$lib/units/units.svelte';

import type { Station } from './driveline';

type Plan = { path: string; label: string; low: number; high: number; step: number; absolute?: boolean };

const PLANS: Record<Station, Plan[]> = {
  pack: [
    { path: 'pack.cells', label: 'Cells', low: 1, high: 14, step: 1, absolute: true },
    { path: 'pack.capacity', label: 'Capacity', low: 0.4, high: 2, step: 100 },
  ],
  controller: [],
  motor: [{ path: 'motor.kv', label: 'KV', low: 0.45, high: 1.9, step: 10 }],
  propeller: [
    { path: 'propeller.diameter', label: 'Diameter', low: 0.6, high: 1.6, step: 0.5 },
    { path: 'propeller.pitch', label: 'Pitch', low: 0.6, high: 1.6, step: 0.5 },
    { path: 'propeller.pitch_ratio', label: 'Pitch ratio', low: 0.9, high: 2.0, step: 0.02, absolute: true },
  ],
  hull: [{ path: 'all_up_mass', label: 'All-up mass', low: 0.6, high: 1.6, step: 10 }],
};

function at(document: SetupDocument, path: string): Quantity | number | null | undefined {
  const [part, key] = path.split('.') as [string, string | undefined];
  const node = (document as unknown as Record<string, unknown>)[part];
  return (key ? (node as Record<string, unknown>)[key] : node) as Quantity | number | null | undefined;
}

/** A step that is round in the typed unit, near the planned one (which is in mm, g, mAh). */
function stepIn(unit: string, planned: number): number {
  if (unit === 'in') return 0.02;
  if (unit === 'oz') return 0.5;
  if (unit === 'kg' || unit === 'Ah' || unit === 'm') return planned / 1000;
  if (unit === 'lb') return 0.02;
  if (unit === 'cm') return planned / 10;
  return planned;
}

export function knobs(station: Station, now: SetupDocument, saved: SetupDocument, fields: Field[]): KnobSpec[] {
  const found: KnobSpec[] = [];
  for (const plan of PLANS[station]) {
    const value = at(now, plan.path);
    const before = at(saved, plan.path) ?? value;
    if (value === null || value === undefined || before === null || before === undefined) continue;
    const [part, key] = plan.path.split('.');
    const field = fields.find((f) => f.part === part && f.key === key);
    if (typeof value === 'number') {
      const allowed: [number, number] | undefined = field
        ? [field.low ?? plan.low, field.high ?? plan.high]
        : undefined;
      found.push({ ...plan, value, saved: before, reach: [plan.low, plan.high], allowed });
      continue;
    }
    const base = typeof before === 'number' ? value.value : fromSi(toSi(before), value.unit);
    const step = stepIn(value.unit, plan.step);
    const reach: [number, number] = plan.absolute
      ? [plan.low, plan.high]
      : [rounded(plan.low * base, step), rounded(plan.high * base, step)];
    let allowed: [number, number] | undefined;
    const { unit, low, high } = field ?? {};
    if (unit && typeof low === 'number' && typeof high === 'number') {
      allowed = [fromSi(toSi({ value: low, unit }), value.unit), fromSi(toSi({ value: high, unit }), value.unit)];
    }
    found.push({ path: plan.path, label: plan.label, value, saved: before, reach, step, allowed });
  }
  return found;
}

function rounded(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toPrecision(8));
}
