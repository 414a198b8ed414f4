/** From an answer to a draft of Match: the changes that make today's setup the answer. */
import type { Answer, SetupDocument } from '$lib/api/client';
import type { Lock } from '$lib/state/aim.svelte';
import { fromSi } from '$lib/units/units.svelte';

type Quantity = { value: number; unit: string; source: 'typed' };
export type DraftChanges = Record<string, Quantity | number>;

/** Sizes as one buys them: KV in fifties, propellers in half millimetres, pitch ratios in twentieths. */
export function changesOf(answer: Answer, document: SetupDocument, locked: Lock[]): DraftChanges {
  const changes: DraftChanges = {};
  if (!locked.includes('motor')) {
    changes['motor.kv'] = { value: Math.round(answer.kv_rpm_per_v / 50) * 50, unit: 'rpm/V', source: 'typed' };
  }
  if (!locked.includes('propeller')) {
    const unit = document.propeller.diameter.unit;
    const millimetres = Math.round(answer.diameter_m * 2000) / 2;
    changes['propeller.diameter'] = {
      value: Number(fromSi(millimetres / 1000, unit).toPrecision(5)),
      unit,
      source: 'typed',
    };
    changes['propeller.pitch_ratio'] = { value: Math.round(answer.pitch_ratio * 20) / 20, unit: '1', source: 'typed' };
  }
  if (!locked.includes('pack')) changes['pack.cells'] = answer.cells;
  return changes;
}
