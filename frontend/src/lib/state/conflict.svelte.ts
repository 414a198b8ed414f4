/** Two people changed the same: both states side by side, and one of them chosen. Nothing is lost in silence. */
import { Problem } from '$lib/api/client';

type Difference = { name: string; mine: string; theirs: string };
type Question = { what: string; differences: Difference[]; answer: (choice: 'mine' | 'theirs') => void };

class Conflict {
  question = $state.raw<Question | undefined>();

  /** Asks which state is to stay. */
  choose(what: string, mine: unknown, theirs: unknown): Promise<'mine' | 'theirs'> {
    return new Promise((resolve) => {
      const answer = (choice: 'mine' | 'theirs'): void => {
        this.question = undefined;
        resolve(choice);
      };
      this.question = { what, differences: differences(mine, theirs), answer };
    });
  }
}

export const conflict = new Conflict();

/** What differs between two states, field by field, as text. */
export function differences(mine: unknown, theirs: unknown): Difference[] {
  const [a, b] = [fields(mine), fields(theirs)];
  return Object.keys({ ...a, ...b })
    .filter((key) => said(a[key]) !== said(b[key]))
    .map((key) => ({ name: key.replaceAll('_', ' '), mine: said(a[key]), theirs: said(b[key]) }));
}

function fields(state: unknown): Record<string, unknown> {
  return typeof state === 'object' && state !== null ? (state as Record<string, unknown>) : { value: state };
}

function said(value: unknown): string {
  if (value === undefined || value === null || value === '') return '–';
  if (Array.isArray(value)) return value.map(said).join('; ') || '–';
  if (typeof value !== 'object') return String(value);
  const { value: number, unit } = value as { value?: number; unit?: string };
  if (number !== undefined && unit !== undefined) return `${number} ${unit}`.replace('deg', '°').trim();
  const parts = Object.entries(value).map(([key, one]) => `${key.replaceAll('_', ' ')} ${said(one)}`);
  return parts.filter((part) => !part.endsWith(' –')).join(', ') || '–';
}

/**
 * Saves a state that others may change as well.
 *
 * @param save sends the state with the tag of what it changes; gives the new tag.
 * @returns the new tag, or undefined where the other state was chosen (`take` has it then).
 */
export async function saveTagged(
  what: string,
  mine: unknown,
  tag: string,
  save: (tag: string) => Promise<string>,
  take: (theirs: Record<string, unknown>, tag: string) => void,
): Promise<string | undefined> {
  for (;;) {
    try {
      return await save(tag);
    } catch (error) {
      const problem = error as Problem;
      if (problem.status !== 412 || !problem.current || !problem.tag) throw error;
      if ((await conflict.choose(what, mine, problem.current)) === 'theirs') {
        take(problem.current, problem.tag);
        return undefined;
      }
      tag = problem.tag;
    }
  }
}
