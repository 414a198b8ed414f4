/** Conversions of the bench: one value in every unit of its kind. */
import { fromSi, toSi, unitLabel } from '$lib/units/units.svelte';

/** Units by kind, as documents write them. */
export const CONVERSIONS: Record<string, string[]> = {
  power: ['W', 'kW', 'hp'],
  temperature: ['degC', 'degF'],
  length: ['mm', 'cm', 'in'],
  speed: ['km/h', 'mph', 'm/s', 'kn'],
  torque: ['Nm', 'Ncm', 'ozf in'],
};

/** A value of one unit in all units of its kind: the unit as it is written on the screen, and the value. */
export function converted(kind: string, value: number, unit: string): [string, number][] {
  const units = CONVERSIONS[kind] ?? [];
  if (!units.includes(unit)) return [];
  const si = toSi({ value, unit });
  return units.map((name) => [unitLabel(name), fromSi(si, name)]);
}
