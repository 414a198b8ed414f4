/** From an answer to a draft of Match: the changes that make today's setup the answer. */
import type { Answer } from '$lib/api/client';
import type { ChangeValue } from '$lib/state/draft.svelte';

type Tried = { changes: Record<string, ChangeValue>; shelf: Record<string, number> };

const NAMES: Record<string, string> = {
  motor: 'motor',
  propeller: 'propeller',
  pack: 'pack',
  controller: 'controller',
};

/** What the server says makes today's boat the answer; what lies on the shelf stays linked to it. */
export function changesOf(answer: Answer): Tried {
  return {
    changes: Object.fromEntries(answer.changes.map((change) => [change.path, change.value as ChangeValue])),
    shelf: Object.fromEntries(
      answer.pieces.flatMap((piece) => (piece.shelf_id === null ? [] : [[piece.kind, piece.shelf_id]])),
    ),
  };
}

/** What of a drive is another part, in words: what to buy, and what lies on the shelf already. */
export function needs(answer: Answer): { buy: string[]; shelf: string[]; kept: string[] } {
  const of = (need: string) => answer.pieces.filter((p) => p.need === need);
  return {
    buy: of('buy').map((p) => `${NAMES[p.kind] ?? p.kind} ${p.name}`.trim()),
    shelf: of('shelf').map((p) => p.name),
    kept: of('kept').map((p) => NAMES[p.kind] ?? p.kind),
  };
}
