/** Everything out and in, and single boats; files are read by the server. */
import { api, ask, asForm, binary, type ImportLine, Problem } from '$lib/api/client';
import { lines } from '$lib/api/stream';
import { boathouse } from '$lib/state/boathouse.svelte';
import { go, pathTo } from '$lib/state/go';
import { toasts } from '$lib/state/toasts.svelte';

const some = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

export class DataState {
  busy = $state('');
  problem = $state<Problem | undefined>();
  /** How far the import of a package is. */
  line = $state.raw<ImportLine | undefined>();
  /** What the last import brought, in words. */
  brought = $state('');

  private async work(busy: string, what: () => Promise<void>): Promise<void> {
    this.busy = busy;
    this.problem = undefined;
    this.line = undefined;
    this.brought = '';
    try {
      await what();
    } catch (error) {
      this.problem = error as Problem;
    } finally {
      this.busy = '';
    }
  }

  /** A boat where the name ends in .json, else a package. */
  take(file: File): Promise<void> {
    return /\.json$/i.test(file.name) ? this.takeBoat(file) : this.takeAll(file);
  }

  private takeAll(file: File): Promise<void> {
    return this.work(`reading ${file.name}…`, async () => {
      const body = new FormData();
      body.append('file', file);
      try {
        for await (const line of lines<ImportLine>('/api/import', body)) this.line = line;
      } finally {
        await boathouse.refresh();
      }
      if (!this.line?.result)
        throw new Problem({ detail: this.line?.problem || 'The import broke off. What is in already stays in.' });
      const { boats, setups, runs, parts } = this.line.result;
      const added = [some(boats, 'boat'), some(setups, 'setup'), some(runs, 'run'), some(parts, 'part')];
      this.brought =
        boats + setups + runs + parts ? `Added ${added.join(', ')}.` : 'Nothing new: you have all of this already.';
    });
  }

  private takeBoat(file: File): Promise<void> {
    return this.work(`reading ${file.name}…`, async () => {
      const sent = { body: { file: binary(file) }, bodySerializer: asForm };
      const made = await ask(api.POST('/api/boats/import', sent));
      await boathouse.refresh();
      const { setups, runs, parts } = made;
      const added = [some(setups, 'setup'), some(runs, 'run'), some(parts, 'part')];
      toasts.say(setups + runs + parts ? `${made.name}: added ${added.join(', ')}` : `${made.name}: nothing new`);
      go(pathTo('match', made.setup_id));
    });
  }
}
