/** The first hour with the demo: three things to do, each ticked when it was done; left and taken up again at will. */
import { account } from './account.svelte';
import { forget, keep, kept } from './kept';

export type Deed = 'knob' | 'typed' | 'next';
const KEY = 'welcome';
type Kept = { done: Deed[]; closed: boolean };

class Welcome {
  done = $state<Deed[]>([]);
  closed = $state(false);

  constructor() {
    const before = kept<Kept>(KEY);
    this.done = before?.done ?? [];
    this.closed = before?.closed ?? false;
  }

  readonly shown = $derived(account.seen.demo && !this.closed);
  readonly all = $derived(this.done.length === 3);

  did(deed: Deed): void {
    if (this.done.includes(deed)) return;
    this.done = [...this.done, deed];
    this.write();
  }

  close(): void {
    this.closed = true;
    this.write();
  }

  again(): void {
    this.done = [];
    this.closed = false;
    forget(KEY);
  }

  private write(): void {
    keep(KEY, { done: $state.snapshot(this.done), closed: this.closed });
  }
}

export const welcome = new Welcome();
