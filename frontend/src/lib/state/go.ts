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

type Go = (path: string, how?: { replace: boolean }) => void;
let navigator: Go = (path) => window.location.assign(path);

export function setNavigator(go: Go): void {
  navigator = go;
}

/** Leads on; in place of a page that only leads on itself, to which nobody wants to come back. */
export function go(path: string, how?: { replace: boolean }): void {
  navigator(path, how);
}
