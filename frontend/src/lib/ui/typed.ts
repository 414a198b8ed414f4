import type { Quantity } from '$lib/api/client';
import { amountOf } from '$lib/units/amount';

/** What was typed or chosen in a field of the library, whose events do not say what they come from. */
export function typed(event: Event): string {
  return (event.target as HTMLInputElement | HTMLSelectElement).value;
}

/** The number in a field, in a unit; undefined where there is none, or a negative one. */
export function typedNumber(event: Event, unit = ''): number | undefined {
  const value = amountOf(typed(event), unit);
  return value === undefined || value < 0 ? undefined : value;
}

/** The number in a field as a quantity in its unit; undefined where there is none. */
export function typedAs(event: Event, unit: string, source: NonNullable<Quantity['source']>): Quantity | undefined {
  const value = typedNumber(event, unit);
  return value === undefined ? undefined : { value, unit, source };
}
