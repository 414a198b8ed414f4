/** Numbers as a racer types them: 43.5 and 43,5, 1 3/4, 1 3/4 in, 42mm, 2". */
import { dimensionOf, fromSi, toSi, unitNamed } from './units.svelte';

const AMOUNT = /^([+\-−]?) ?(\d{1,3}(?: \d{3})+|\d+(?![\d/]))?([.,]\d*)?( ?\d+\/\d+)?(e[+-]?\d+)? ?(.*)$/i;

/** A number in a unit, whatever unit of its kind stands behind it; undefined where none was typed. */
export function amountOf(text: string, unit = ''): number | undefined {
  const found = AMOUNT.exec(text.replace(/[\s\u202f]+/g, ' ').trim());
  if (!found) return undefined;
  const [, sign, whole = '', part = '', fraction, power = '', rest = ''] = found;
  if (!/\d/.test(whole + part) && !fraction) return undefined;
  if (fraction && part) return undefined;
  const [over, under] = (fraction ?? '0/1').trim().split('/').map(Number) as [number, number];
  const plain = Number(`${whole.replace(/ /g, '') || '0'}${part.replace(',', '.')}${power}`) + over / under;
  const value = sign && sign !== '+' ? -plain : plain;
  if (!Number.isFinite(value)) return undefined;
  const told = rest.trim();
  if (told === '') return value;
  const named = unitNamed(told);
  if (named === undefined || dimensionOf(named) !== dimensionOf(unit)) return undefined;
  return named === unit ? value : Number(fromSi(toSi({ value, unit: named }), unit).toPrecision(12));
}
