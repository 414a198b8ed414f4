/** The shelf: parts found by kind and words, changed, compared in the boat. */
import { api, ask, asForm, binary, Problem, type Candidate, type SetupDocument, type ShelfPart } from '$lib/api/client';
import { Once } from '$lib/api/once';
import { allPages } from '$lib/api/pages';
import { aim } from '$lib/state/aim.svelte';
import { moveToBin } from '$lib/state/bin';
import { saveTagged } from '$lib/state/conflict.svelte';
import { toasts } from '$lib/state/toasts.svelte';

export const STATES = ['new', 'in use', 'worn', 'in repair', 'dead', 'lost', 'for sale'];
/** States of parts that are not put into a boat any more. */
export const GONE = ['dead', 'lost'];
/** Whether a part is dead or lost. */
export const gone = (part: ShelfPart): boolean => GONE.includes(part.state);

/** Its state as one reads it: what is in no boat is not in use. */
export function stateOf(part: ShelfPart): string {
  return part.state === 'in use' && !part.boats.length ? 'spare' : part.state;
}

export const DRIVE_KINDS = ['motor', 'controller', 'propeller', 'pack', 'hull', 'mount', 'coupler', 'shaft', 'jacket'];
export const MOST_COMPARED = 6;

export class ShelfState {
  parts = $state.raw<ShelfPart[]>([]);
  kind = $state('');
  words = $state('');
  phase = $state<'loading' | 'ready' | 'failed'>('loading');
  problem = $state<Problem | undefined>();
  picked = $state<number[]>([]);
  candidates = $state.raw<Candidate[]>([]);
  comparing = $state(false);

  readonly counts = $derived.by(() => {
    const found: Record<string, number> = {};
    for (const part of this.parts) found[part.kind] = (found[part.kind] ?? 0) + part.pieces;
    return found;
  });
  readonly shown = $derived(
    this.parts.filter((part) => (!this.kind || part.kind === this.kind) && matches(part, this.words)),
  );
  readonly due = $derived(this.parts.filter((p) => p.due));

  async load(): Promise<void> {
    try {
      this.parts = await allPages((after) => ask(api.GET('/api/parts', { params: { query: { after: after ?? '' } } })));
      this.phase = 'ready';
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
      this.phase = 'failed';
    }
  }

  pick(id: number): void {
    if (this.picked.includes(id)) this.picked = this.picked.filter((p) => p !== id);
    else if (this.picked.length < MOST_COMPARED) this.picked = [...this.picked, id];
  }

  /** Answers whether it went well. */
  private async act(work: Promise<unknown>): Promise<boolean> {
    try {
      await work;
      await this.load();
      return true;
    } catch (error) {
      this.problem = error as Problem;
      return false;
    }
  }

  /** Changes a part that was seen as it is on the sheet. */
  change(part: ShelfPart, body: Record<string, unknown>): Promise<boolean> {
    const save = async (tag: string): Promise<string> => {
      const params = { path: { part_id: part.id }, header: { 'If-Match': tag } };
      return (await ask(api.PATCH('/api/parts/{part_id}', { params, body }))).tag;
    };
    return this.act(saveTagged(`the part ${part.name}`, body, part.tag, save, () => undefined));
  }
  event(id: number, kind: string, words: string): Promise<boolean> {
    return this.act(
      this.sent({ id, kind, words }, (header) =>
        ask(
          api.POST('/api/parts/{part_id}/events', { params: { path: { part_id: id }, header }, body: { kind, words } }),
        ),
      ),
    );
  }
  add(kind: string, document: Record<string, unknown>): Promise<boolean> {
    return this.act(
      this.sent({ kind, document }, (header) =>
        ask(api.POST('/api/parts', { params: { header }, body: { kind, document } })),
      ),
    );
  }
  remove(id: number): Promise<boolean> {
    return this.act(moveToBin('part', id, () => this.load()));
  }
  importCsv(file: File): Promise<boolean> {
    return this.act(
      ask(api.POST('/api/parts.csv', { body: { file: binary(file) }, bodySerializer: asForm })).then(
        ({ added, changed, same }) =>
          toasts.say(`${file.name}: ${added} parts added, ${changed} updated, ${same} unchanged`),
      ),
    );
  }

  private readonly once = new Once();
  private async sent<T>(body: unknown, send: (header: { 'Idempotency-Key': string }) => Promise<T>): Promise<T> {
    const made = await send(this.once.header(body));
    this.once.arrived();
    return made;
  }

  /** Each picked part in a boat, cooled by the boat's own water. */
  async compare(document: SetupDocument, boatId: number): Promise<void> {
    this.comparing = true;
    try {
      this.candidates = await ask(
        api.POST('/api/parts/compared', {
          params: { query: { boat: boatId } },
          body: {
            document,
            parts: $state.snapshot(this.picked),
            duty: $state.snapshot(aim.duty),
            schools: $state.snapshot(aim.schools),
          },
        }),
      );
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
    }
    this.comparing = false;
  }
}

/** Whether every word is somewhere in a part: kind, name, state, boats, or a size like 36mm. */
export function matches(part: ShelfPart, words: string): boolean {
  const text = [part.kind, part.name, part.state, ...part.boats, String(part.record.note ?? ''), sizes(part)]
    .join(' ')
    .toLowerCase();
  const close = text.replace(/(\d) (?=[a-zµω])/g, '$1'); // 36mm is 36 mm
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word) || close.includes(word));
}

/** All sizes of a part in one line, as they were typed. */
export function sizes(part: Pick<ShelfPart, 'document'>): string {
  return Object.entries(part.document)
    .filter(([key, raw]) => key !== 'name' && raw !== null)
    .map(([key, raw]) => {
      const label = key.replaceAll('_', ' ');
      if (typeof raw === 'object') {
        const { value, unit } = raw as { value: number; unit: string };
        return `${label} ${value}${unit === '1' ? '' : ` ${unit}`}`;
      }
      return `${label} ${String(raw).replaceAll('_', ' ')}`;
    })
    .join(' · ');
}
