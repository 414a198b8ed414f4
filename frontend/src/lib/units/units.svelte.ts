/** Units: what comes from the core in SI is shown in the racer's system; what was typed keeps its unit. */
import table from './table.json';

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

/** Units a document may carry, to the core's unit: si = (number + offset) * factor. Made from the core's own table. */
type Row = { dimension: string; symbol: string; factor: number; offset: number };
const TYPED: Record<string, Row> = Object.fromEntries(
  Object.entries(table).flatMap(([dimension, rows]) => rows.map(({ unit, ...row }) => [unit, { dimension, ...row }])),
);
/** Dimensions that are shown in a unit of the racer's system; a speed that was typed is a wind. */
const SWITCHED: Record<string, string> = { length: 'length', mass: 'mass', temperature: 'temperature', speed: 'wind' };
const IMPERIAL = ['in', 'oz', 'lb', 'mph', 'degF'];

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
    const shown = SWITCHED[TYPED[quantity.unit]?.dimension ?? ''];
    if (!shown || IMPERIAL.includes(quantity.unit) === (this.system === 'imperial')) {
      return { text: trimmed(quantity.value), unit: unitLabel(quantity.unit) };
    }
    return this.show(toSi(quantity), shown);
  }
}

export function trimmed(value: number): string {
  const [whole = '0', part] = String(Number(value.toPrecision(6))).split('.');
  return grouped(Number(whole), 0) + (part ? `.${part}` : '');
}

export function unitLabel(unit: string): string {
  return TYPED[unit]?.symbol ?? unit;
}

/** A typed quantity in the core's unit. */
export function toSi(quantity: { value: number; unit: string }): number {
  const { factor, offset } = TYPED[quantity.unit] ?? { factor: 1, offset: 0 };
  return (quantity.value + offset) * factor;
}

/** A value in the core's unit as a number in a typed unit. */
export function fromSi(value: number, unit: string): number {
  const { factor, offset } = TYPED[unit] ?? { factor: 1, offset: 0 };
  return value / factor - offset;
}

export const units = new Units();
