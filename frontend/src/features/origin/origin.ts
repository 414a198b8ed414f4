/** What a number of the forecast rests on, from the forecast itself. */
import type { Banded, Forecast, Origin, SetupDocument } from '$lib/api/client';
import { grouped, trimmed, unitLabel, type units as Units } from '$lib/units/units.svelte';

import { measurable } from '$lib/state/measure';

export const SOURCES = {
  typed: 'typed',
  measured: 'measured',
  learnt: 'learnt from runs',
  guessed: 'guessed',
} as const;

type Cause = {
  parameter: string;
  label: string;
  text: string;
  source: keyof typeof SOURCES;
  reason: string;
  share: number;
  narrow: string;
};

/** Numbers whose band is taken apart by the number that they follow. */
const FOLLOWS: Record<string, string> = {
  slip: 'speed_mps', endurance_s: 'current_a', motor_current_a: 'current_a', pack_voltage_v: 'current_a',
  motor_voltage_v: 'current_a', shaft_power_w: 'electrical_power_w', useful_power_w: 'electrical_power_w',
  chemical_power_w: 'electrical_power_w', free_rpm: 'rpm', torque_nm: 'thrust_n', resistance_n: 'thrust_n',
  pack_current: 'current_a', wire_current: 'current_a', controller_current: 'current_a', motor_current: 'current_a',
  cell_voltage: 'current_a', electrical_rpm: 'rpm', loaded_rpm: 'rpm', motor_power: 'electrical_power_w',
}; // prettier-ignore
const MOST = 5;
const SMALL = 0.02;

export function causes(forecast: Forecast, origin: Origin, document: SetupDocument): Cause[] {
  const of = FOLLOWS[origin.key] ?? origin.key;
  return forecast.guesses
    .map((g) => ({ g, share: g.shares[of] ?? 0 }))
    .filter(({ share }) => share >= SMALL)
    .sort((a, b) => b.share - a.share)
    .slice(0, MOST)
    .map(({ g, share }) => ({
      parameter: g.parameter,
      label: g.label,
      text: `${trimmed(Number(g.value.toPrecision(3)))} ${unitLabel(g.unit)}`.trim(),
      source: g.source,
      reason: g.reason ? `${g.reason[0]?.toUpperCase()}${g.reason.slice(1)}.` : 'Known to a few percent.',
      share,
      narrow: g.source === 'guessed' ? (measurable(g.parameter, document)?.label ?? '') : '',
    }));
}

/** A number as it stands on the sheet, with its band or with what a limit says. */
export function shown(
  forecast: Forecast,
  origin: Origin,
  units: typeof Units,
): { text: string; band: string; reason: string } {
  if (origin.of === 'limit') {
    const margin = forecast.margins.find((m) => m.key === origin.key);
    const text = margin ? `${grouped(margin.load, margin.unit === 'V' ? 2 : 0)} ${margin.unit}` : '–';
    return { text, band: '', reason: margin?.reason ?? 'This drive has no such limit.' };
  }
  const { value, low, high } = (forecast.point as Record<string, Banded>)[origin.key] ?? {
    value: null,
    low: null,
    high: null,
  };
  const say = (v: number | null): string => units.text(v, origin.dimension);
  const band = low !== null && high !== null && low !== high ? `80 % between ${say(low)} and ${say(high)}` : '';
  return { text: say(value), band, reason: '' };
}

/** Numbers of a forecast, which is there to be looked at; all others stand on the screens that they name. */
export const ofForecast = (one: Origin): boolean => one.of === 'point' || one.of === 'limit';

/** Those that are on the sheet: what the screen shows first, then the forecast's where there is one. */
export function here(all: Origin[], mark: string | undefined, forecast: boolean): Origin[] {
  const on = all.filter((o) => mark !== undefined && o.marks.includes(mark));
  return [...on, ...(forecast ? all.filter(ofForecast) : [])];
}

export function found(all: Origin[], words: string): Origin[] {
  const wanted = words.trim().toLowerCase();
  return all.filter((o) => `${o.title} ${o.of} ${o.how}`.toLowerCase().includes(wanted));
}
