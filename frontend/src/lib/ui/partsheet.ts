/** Between a field of a part and the text of an entry. */
import type { Field, Quantity } from '$lib/api/client';
import { amountOf } from '$lib/units/amount';
import { fromSi, toSi, trimmed, unitLabel } from '$lib/units/units.svelte';

type Read = { value?: Quantity | number | string | null; error?: string };

/** What stands in the entry for a value of a document; a guess leaves it empty. */
export function textOf(raw: unknown): string {
  if (raw === null || raw === undefined) return '';
  if (typeof raw === 'object') {
    const quantity = raw as Quantity;
    return quantity.source === 'guessed' ? '' : String(quantity.value);
  }
  return String(raw);
}

/** The value that a text means for a field; an error in words where it means none. */
export function read(field: Field, text: string, before: unknown): Read {
  const clean = text.trim();
  if (field.type === 'choice') return { value: text };
  if (clean === '') return field.required ? { error: 'needed' } : { value: null };
  const unit = (before as Quantity | null | undefined)?.unit ?? field.unit ?? '1';
  const number = amountOf(clean, field.type === 'count' ? '' : unit);
  if (number === undefined) return { error: 'a number, please' };
  if (field.type === 'count') {
    const [low, high] = [field.low ?? 0, field.high ?? 99];
    if (!Number.isInteger(number) || number < low || number > high)
      return { error: `a whole number from ${low} to ${high}` };
    return { value: number };
  }
  const own = field.unit ?? unit;
  const limits = [field.low ?? -Infinity, field.high ?? Infinity].map((edge) =>
    fromSi(toSi({ value: edge, unit: own }), unit),
  );
  const [low, high] = limits as [number, number];
  if (number < low - 1e-9 || number > high + 1e-9) {
    return { error: `${trimmed(low)} to ${trimmed(high)} ${unitLabel(unit)}`.trim() };
  }
  return { value: { value: number, unit, source: 'typed' } };
}
