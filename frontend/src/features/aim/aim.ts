/** From an answer to a draft of Match: the changes that make today's setup the answer. */
import type { Answer, SetupDocument } from '$lib/api/client';
import type { ChangeValue } from '$lib/state/draft.svelte';
import { fromSi } from '$lib/units/units.svelte';

export type Tried = { changes: Record<string, ChangeValue>; shelf: Record<string, number> };

const NAMES: Record<string, string> = {
  motor: 'motor',
  propeller: 'propeller',
  pack: 'pack',
  controller: 'controller',
};

/** What lies on the shelf goes in as it is; the rest by sizes as one buys them: KV in fifties, half millimetres, twentieths. */
export function changesOf(answer: Answer, document: SetupDocument): Tried {
  const tried: Tried = { changes: {}, shelf: {} };
  for (const piece of answer.pieces) {
    if (piece.need === 'shelf' && piece.value && piece.shelf_id !== null) {
      tried.changes[piece.kind] = piece.value as ChangeValue;
      tried.shelf[piece.kind] = piece.shelf_id;
      continue;
    }
    if (piece.need === 'kept') continue;
    if (piece.kind === 'motor')
      tried.changes['motor.kv'] = { value: Math.round(answer.kv_rpm_per_v / 50) * 50, unit: 'rpm/V', source: 'typed' };
    else if (piece.kind === 'propeller') {
      const unit = document.propeller.diameter.unit;
      const millimetres = Math.round(answer.diameter_m * 2000) / 2;
      const value = Number(fromSi(millimetres / 1000, unit).toPrecision(5));
      tried.changes['propeller.diameter'] = { value, unit, source: 'typed' };
      const ratio = Math.round(answer.pitch_ratio * 20) / 20;
      tried.changes['propeller.pitch_ratio'] = { value: ratio, unit: '1', source: 'typed' };
    } else if (piece.kind === 'pack') tried.changes['pack.cells'] = answer.cells;
    else
      tried.changes['controller.continuous_current'] = { value: answer.controller_class_a, unit: 'A', source: 'typed' };
  }
  return tried;
}

/** What of a drive is another part, in words: what to buy, and what lies on the shelf already. */
export function needs(answer: Answer): { buy: string[]; shelf: string[]; kept: string[] } {
  const of = (need: string) => answer.pieces.filter((p) => p.need === need);
  return {
    buy: of('buy').map((p) => NAMES[p.kind] ?? p.kind),
    shelf: of('shelf').map((p) => p.name),
    kept: of('kept').map((p) => NAMES[p.kind] ?? p.kind),
  };
}
