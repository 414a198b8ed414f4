/** The logbook: outings of all boats, filtered, page by page; damage mended. */
import { api, ask, askNothing, Problem, type Logbook, type LogbookRun } from '$lib/api/client';
import { toasts } from '$lib/state/toasts.svelte';

import { joined } from './outings';

export type Only = '' | 'damage' | 'stopped' | 'track';

const REST_MS = 250;

export class LogbookState {
  book = $state.raw<Logbook | undefined>();
  phase = $state<'loading' | 'ready' | 'failed'>('loading');
  problem = $state<Problem | undefined>();
  words = $state('');
  boat = $state<number | undefined>();
  only = $state<Only>('');

  /** Counts what was asked: a late answer never takes the place of a later wish. */
  private asked = 0;
  private resting: ReturnType<typeof setTimeout> | undefined;

  private query(): { words: string; only: Only; boat?: number } {
    return { words: this.words, only: this.only, ...(this.boat ? { boat: this.boat } : {}) };
  }

  async load(): Promise<void> {
    const at = ++this.asked;
    try {
      const book = await ask(api.GET('/api/logbook', { params: { query: this.query() } }));
      if (at !== this.asked) return;
      this.book = book;
      this.phase = 'ready';
      this.problem = undefined;
    } catch (error) {
      if (at !== this.asked) return;
      this.problem = error as Problem;
      if (!this.book) this.phase = 'failed';
    }
  }

  /** Looks anew once the hand rests. */
  filter(): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => void this.load(), REST_MS);
  }

  async more(): Promise<void> {
    const { book } = this;
    if (!book?.next) return;
    const at = this.asked;
    try {
      const query = { ...this.query(), before: book.next };
      const page = await ask(api.GET('/api/logbook', { params: { query } }));
      if (at !== this.asked) return;
      this.book = { ...book, outings: joined(book.outings, page), next: page.next };
    } catch (error) {
      this.problem = error as Problem;
    }
  }

  async mend(run: LogbookRun, damage: string, mended = true): Promise<void> {
    try {
      const params = { path: { run_id: run.id } };
      await askNothing(api.POST('/api/runs/{run_id}/mended', { params, body: { damage, mended } }));
      await this.load();
      if (mended) toasts.say(`Mended: ${damage}`, () => this.mend(run, damage, false));
    } catch (error) {
      this.problem = error as Problem;
    }
  }
}
