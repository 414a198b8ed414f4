/** Where things are, and how to get there; the router hands in the how. */
export type Mark = 'aim' | 'match' | 'fit' | 'launch' | 'run' | 'compare' | 'trim';

export const MARKS: { mark: Mark; name: string; question: string; key: string }[] = [
  { mark: 'aim', name: 'Aim', question: 'what for?', key: '1' },
  { mark: 'match', name: 'Match', question: 'what will it do?', key: '2' },
  { mark: 'fit', name: 'Fit', question: 'does it go together?', key: '3' },
  { mark: 'launch', name: 'Launch', question: 'all ready?', key: '4' },
  { mark: 'run', name: 'Run', question: 'what did it do?', key: '5' },
  { mark: 'compare', name: 'Compare', question: 'was it the change?', key: '6' },
  { mark: 'trim', name: 'Trim', question: 'what shall I turn?', key: '7' },
];

export function pathTo(mark: Mark, setupId: number): string {
  return `/setups/${setupId}/${mark}`;
}

/** What goes wrong on the water, where it is answered, and what is wanted there of the next change. */
export const TROUBLES: { key: string; name: string; finds: string; mark: Mark; wish?: string; answer: string }[] = [
  {
    key: 'hot',
    name: 'Hot',
    finds: 'Hot motor, controller or pack',
    mark: 'match',
    wish: 'within',
    answer: 'What cools it for the least speed',
  },
  {
    key: 'slow',
    name: 'Slow',
    finds: 'Too slow',
    mark: 'match',
    wish: 'faster',
    answer: 'What makes it faster within limits',
  },
  {
    key: 'short',
    name: 'Short',
    finds: 'Runs too short',
    mark: 'match',
    wish: 'longer',
    answer: 'What makes the charge last',
  },
  {
    key: 'wet',
    name: 'Wet',
    finds: 'Runs wet, hops or blows over',
    mark: 'trim',
    answer: 'What to turn',
  },
];

type Go = (path: string, how?: { replace: boolean }) => void;
let navigator: Go = (path) => window.location.assign(path);

export function setNavigator(go: Go): void {
  navigator = go;
}

/** Leads on; in place of a page that only leads on itself, to which nobody wants to come back. */
export function go(path: string, how?: { replace: boolean }): void {
  navigator(path, how);
}
