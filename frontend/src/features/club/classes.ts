/** What a class may limit: as fields of a form, and in words. */
import type { ClassRule } from '$lib/api/client';
import { unitLabel, trimmed, type units as Units } from '$lib/units/units.svelte';

type ClassField = {
  key: keyof ClassRule;
  label: string;
  unit: string;
  text: (si: number) => string;
  si: (typed: string) => number;
};

const ROWS: [key: keyof ClassRule, label: string, before: string, dimension: string][] = [
  ['most_cells', 'Most cells in series', 'at most', 'cells'],
  ['most_voltage_v', 'Highest voltage, fully charged', 'at most', 'voltage'],
  ['most_length_m', 'Longest hull', 'hull at most', 'length'],
  ['least_mass_kg', 'Least mass, ready to race', 'at least', 'mass'],
  ['most_mass_kg', 'Most mass, ready to race', 'at most', 'mass'],
  ['most_noise_db', 'Loudest', 'at most', 'dB(A)'],
  ['noise_at_m', 'Meter from the course', 'at', 'distance'],
];

const PLAIN: Record<string, string> = { cells: 'cells', 'dB(A)': 'dB(A)' };

export function fields(units: typeof Units): ClassField[] {
  return ROWS.map(([key, label, , dimension]) => {
    const plain = PLAIN[dimension];
    const unit = plain === undefined ? units.unit(dimension) : { unit: plain, factor: 1, offset: 0 };
    return {
      key,
      label,
      unit: plain === undefined ? unitLabel(unit.unit) : plain === 'cells' ? '' : plain,
      text: (si) => String(Number((si * unit.factor).toPrecision(6))),
      si: (typed) => Number(typed.trim().replace(',', '.')) / unit.factor,
    };
  });
}

/** A class in one line. */
export function said(rule: ClassRule, units: typeof Units): string {
  const words = ROWS.flatMap(([key, , before, dimension]) => {
    const limit = rule[key];
    if (limit === null || limit === undefined) return [];
    const plain = PLAIN[dimension];
    return [`${before} ${plain === undefined ? units.text(limit, dimension) : `${trimmed(limit)} ${plain}`}`];
  });
  return words.join(', ') || 'everything is free';
}
