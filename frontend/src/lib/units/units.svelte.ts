/** Units: what comes from the core in SI is shown in the racer's system; what was typed keeps its unit. */
import table from './table.json';

type System = 'metric' | 'imperial';
type Shown = { text: string; unit: string };

/** How a dimension is shown: shown = value * factor + offset. */
type Unit = { unit: string; factor: number; offset: number; digits: number };

/** Units a document may carry, to the core's unit: si = (number + offset) * factor. Made from the core's own table. */
type Row = { dimension: string; symbol: string; factor: number; offset: number };
const TYPED: Record<string, Row> = Object.fromEntries(
  Object.entries(table).flatMap(([dimension, rows]) => rows.map(({ unit, ...row }) => [unit, { dimension, ...row }])),
);

/** Units in which something is shown, as documents write them, and with how many digits. */
const SHOWN: Record<System, Record<string, [unit: string, digits: number]>> = {
  metric: {
    speed: ['km/h', 1],
    mass: ['g', 0],
    length: ['mm', 1],
    temperature: ['degC', 0],
    wind: ['m/s', 1],
    distance: ['m', 0],
  },
  imperial: {
    speed: ['mph', 1],
    mass: ['oz', 1],
    length: ['in', 3],
    temperature: ['degF', 0],
    wind: ['mph', 1],
    distance: ['ft', 0],
  },
};
const SAME: Record<string, [unit: string, digits: number]> = {
  current: ['A', 0],
  voltage: ['V', 1],
  power: ['W', 0],
  rotation: ['rpm', 0],
  force: ['N', 1],
  charge: ['mAh', 0],
  percent: ['%', 0],
  number: ['1', 2],
};

/** Dimensions that are shown in a unit of the racer's system; a speed that was typed is a wind. */
const SWITCHED: Record<string, string> = { length: 'length', mass: 'mass', temperature: 'temperature', speed: 'wind' };
const IMPERIAL = ['in', 'oz', 'lb', 'mph', 'degF'];

const KEY = 'kunstflug.units';

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

const CURRENCY_KEY = 'kunstflug.currency';

class Units {
  system = $state<System>(stored());
  /** What prices are in; the racer's own word or sign. */
  currency = $state(globalThis.localStorage?.getItem(CURRENCY_KEY) ?? '€');

  pay(currency: string): void {
    this.currency = currency.trim().slice(0, 4);
    globalThis.localStorage?.setItem(CURRENCY_KEY, this.currency);
  }

  money(amount: number): string {
    return `${grouped(amount, Number.isInteger(amount) ? 0 : 2)} ${this.currency}`.trim();
  }

  switch(): void {
    this.system = this.system === 'metric' ? 'imperial' : 'metric';
    globalThis.localStorage?.setItem(KEY, this.system);
  }

  unit(dimension: string): Unit {
    const [unit, digits] = SHOWN[this.system][dimension] ?? SAME[dimension] ?? [dimension, 1];
    const row = TYPED[unit];
    return { unit: row?.symbol ?? unit, factor: 1 / (row?.factor ?? 1), offset: -(row?.offset ?? 0), digits };
  }

  /** A value in the core's unit as text and unit; an en dash for none. */
  show(value: number | null | undefined, dimension: string, digits?: number): Shown {
    const unit = this.unit(dimension);
    if (value === null || value === undefined || !Number.isFinite(value)) return { text: '–', unit: unit.unit };
    return { text: grouped(value * unit.factor + unit.offset, digits ?? unit.digits), unit: unit.unit };
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

/** What is measured in a unit; nothing for a number of pieces. */
export function dimensionOf(unit: string): string {
  return TYPED[unit]?.dimension ?? '';
}

/** How racers write units beside their names and signs. */
const ALSO: Record<string, string> = {
  '"': 'in', '″': 'in', inch: 'in', inches: 'in', "'": 'ft', c: 'degC', f: 'degF', kmh: 'km/h', kph: 'km/h', kt: 'kn', knots: 'kn',
  lbs: 'lb', '1/min': 'rpm', kv: 'rpm/V', mohms: 'mohm', ohms: 'ohm',
}; // prettier-ignore

/** The unit of which somebody wrote the name, the sign or the usual short form. */
export function unitNamed(written: string): string | undefined {
  const small = written.toLowerCase();
  if (written in TYPED) return written;
  const rows = Object.entries(TYPED);
  const found = rows.find(([, row]) => row.symbol === written) ?? rows.find(([unit]) => unit.toLowerCase() === small);
  return found?.[0] ?? ALSO[small];
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
