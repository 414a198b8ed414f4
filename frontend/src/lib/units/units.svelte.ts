/** Units: what comes from the core in SI is shown in the racer's system; what was typed keeps its unit. */
export type System = 'metric' | 'imperial';
export type Shown = { text: string; unit: string };

type Unit = { unit: string; factor: number; offset?: number; digits: number };

/** Shown unit of a dimension: shown = value * factor + offset. */
const SHOWN: Record<System, Record<string, Unit>> = {
  metric: {
    speed: { unit: 'km/h', factor: 3.6, digits: 1 },
    mass: { unit: 'g', factor: 1000, digits: 0 },
    length: { unit: 'mm', factor: 1000, digits: 1 },
    temperature: { unit: '°C', factor: 1, digits: 0 },
    wind: { unit: 'm/s', factor: 1, digits: 1 },
    distance: { unit: 'm', factor: 1, digits: 0 },
  },
  imperial: {
    speed: { unit: 'mph', factor: 1 / 0.44704, digits: 1 },
    mass: { unit: 'oz', factor: 1 / 0.028349523125, digits: 1 },
    length: { unit: 'in', factor: 1 / 0.0254, digits: 3 },
    temperature: { unit: '°F', factor: 9 / 5, offset: 32, digits: 0 },
    wind: { unit: 'mph', factor: 1 / 0.44704, digits: 1 },
    distance: { unit: 'ft', factor: 1 / 0.3048, digits: 0 },
  },
};

const SAME: Record<string, Unit> = {
  current: { unit: 'A', factor: 1, digits: 0 },
  voltage: { unit: 'V', factor: 1, digits: 1 },
  power: { unit: 'W', factor: 1, digits: 0 },
  rotation: { unit: 'rpm', factor: 1, digits: 0 },
  force: { unit: 'N', factor: 1, digits: 1 },
  percent: { unit: '%', factor: 100, digits: 0 },
  number: { unit: '', factor: 1, digits: 2 },
};

/** Units a document may carry, to the core's unit: si = (number + offset) * factor. */
const TYPED: Record<string, { dimension: string; factor: number; offset?: number }> = {
  m: { dimension: 'length', factor: 1 },
  mm: { dimension: 'length', factor: 1e-3 },
  cm: { dimension: 'length', factor: 1e-2 },
  in: { dimension: 'length', factor: 0.0254 },
  kg: { dimension: 'mass', factor: 1 },
  g: { dimension: 'mass', factor: 1e-3 },
  oz: { dimension: 'mass', factor: 0.028349523125 },
  lb: { dimension: 'mass', factor: 0.45359237 },
  'm/s': { dimension: 'wind', factor: 1 },
  'km/h': { dimension: 'wind', factor: 1 / 3.6 },
  mph: { dimension: 'wind', factor: 0.44704 },
  kn: { dimension: 'wind', factor: 1852 / 3600 },
  degC: { dimension: 'temperature', factor: 1 },
  degF: { dimension: 'temperature', factor: 5 / 9, offset: -32 },
};

/** Units that look the same in both systems, to the core's unit. */
const SCALED: Record<string, number> = {
  mohm: 1e-3,
  mAh: 1e-3,
  kW: 1e3,
  hp: 745.6998715822702,
  '%': 1e-2,
  cm2: 1e-4,
  min: 60,
  h: 3600,
  Ncm: 1e-2,
  'ozf in': 0.0070615518333333,
  kPa: 1e3,
  bar: 1e5,
  psi: 6894.757293168361,
  'L/min': 1e-3 / 60,
};

const LABELS: Record<string, string> = { degC: '°C', degF: '°F', mohm: 'mΩ', ohm: 'Ω', '1': '', m2: 'm²', cm2: 'cm²' };

export const KEY = 'kunstflug.units';

function stored(): System {
  return globalThis.localStorage?.getItem(KEY) === 'imperial' ? 'imperial' : 'metric';
}

export function grouped(number: number, digits: number): string {
  const text = Math.abs(number).toFixed(digits);
  const [whole = '0', part] = text.split('.');
  // A thin space from five figures on: 8417 but 23 900.
  const spaced = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u202f') : whole;
  const sign = number < 0 && Number(text) !== 0 ? '−' : '';
  return sign + spaced + (part ? `.${part}` : '');
}

class Units {
  system = $state<System>(stored());

  switch(): void {
    this.system = this.system === 'metric' ? 'imperial' : 'metric';
    globalThis.localStorage?.setItem(KEY, this.system);
  }

  unit(dimension: string): Unit {
    return SHOWN[this.system][dimension] ?? SAME[dimension] ?? { unit: dimension, factor: 1, digits: 1 };
  }

  /** A value in the core's unit as text and unit; an en dash for none. */
  show(value: number | null | undefined, dimension: string, digits?: number): Shown {
    const unit = this.unit(dimension);
    if (value === null || value === undefined || !Number.isFinite(value)) return { text: '–', unit: unit.unit };
    return { text: grouped(value * unit.factor + (unit.offset ?? 0), digits ?? unit.digits), unit: unit.unit };
  }

  /** The same in one string. */
  text(value: number | null | undefined, dimension: string, digits?: number): string {
    const shown = this.show(value, dimension, digits);
    return shown.unit === '%' ? shown.text + '%' : `${shown.text} ${shown.unit}`.trim();
  }

  /** A difference of two values, without the offset of its unit, with its sign; ±0 where nothing is seen of it. */
  change(value: number, dimension: string, digits?: number): string {
    const unit = this.unit(dimension);
    const text = grouped(Math.abs(value * unit.factor), digits ?? unit.digits);
    return `${Number(text.replace(/\u202f/g, '')) === 0 ? '±' : value > 0 ? '+' : '−'}${text}`;
  }

  /** A typed quantity as it was typed, or in the other system where that has a unit of its own. */
  typed(quantity: { value: number; unit: string }): Shown {
    const known = TYPED[quantity.unit];
    const imperial = ['in', 'oz', 'lb', 'mph', 'degF'].includes(quantity.unit);
    if (!known || imperial === (this.system === 'imperial')) {
      return { text: trimmed(quantity.value), unit: LABELS[quantity.unit] ?? quantity.unit };
    }
    return this.show((quantity.value + (known.offset ?? 0)) * known.factor, known.dimension);
  }
}

export function trimmed(value: number): string {
  const [whole = '0', part] = String(Number(value.toPrecision(6))).split('.');
  return grouped(Number(whole), 0) + (part ? `.${part}` : '');
}

export function unitLabel(unit: string): string {
  return LABELS[unit] ?? unit;
}

/** A typed quantity in the core's unit; unknown units are the core's own. */
export function toSi(quantity: { value: number; unit: string }): number {
  const known = TYPED[quantity.unit];
  return known ? (quantity.value + (known.offset ?? 0)) * known.factor : quantity.value * (SCALED[quantity.unit] ?? 1);
}

/** A value in the core's unit as a number in a typed unit. */
export function fromSi(value: number, unit: string): number {
  const known = TYPED[unit];
  return known ? value / known.factor - (known.offset ?? 0) : value / (SCALED[unit] ?? 1);
}

export const units = new Units();
