/** The things of a boat whose runs can be set aside, each with its runs. */
import type { Knowledge } from '$lib/api/client';

interface Forgettable {
  name: string;
  runs: number[];
}

/** The boat itself first, then its parts; one that rests on the same runs as the boat is named all the same. */
export function forgettable(knowledge: Knowledge): Forgettable[] {
  const boat = knowledge.judged.map((run) => run.run_id);
  const parts = new Map<string, Set<number>>();
  for (const number of knowledge.numbers) {
    if (number.of === 'hull' || number.of === 'model') continue; // they are the boat
    const runs = parts.get(number.owner) ?? new Set<number>();
    for (const run of number.runs) runs.add(Number(run));
    parts.set(number.owner, runs);
  }
  return [
    { name: 'This boat', runs: boat },
    ...[...parts].map(([owner, runs]) => ({ name: owner, runs: [...runs].sort((a, b) => a - b) })),
  ].filter((thing) => thing.runs.length);
}
