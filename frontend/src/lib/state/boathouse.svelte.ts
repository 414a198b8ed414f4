/** Boats and vocabulary: what every screen needs, loaded once and refreshed after a save. */
import { api, ask, Problem, type BoatView, type Field, type Vocabulary } from '$lib/api/client';
import { allPages } from '$lib/api/pages';

function allBoats(): Promise<BoatView[]> {
  return allPages((after) => ask(api.GET('/api/boats', { params: { query: { after: Number(after ?? 0) } } })));
}

class Boathouse {
  boats = $state<BoatView[]>([]);
  vocabulary = $state<Vocabulary>({ kinds: [], fields: [], conditions: {}, gun_order: [], water_states: [] });
  state = $state<'loading' | 'ready' | 'failed'>('loading');
  problem = $state<Problem | undefined>();

  async load(): Promise<void> {
    try {
      const [boats, vocabulary] = await Promise.all([allBoats(), ask(api.GET('/api/vocabulary'))]);
      this.boats = boats;
      this.vocabulary = vocabulary;
      this.state = 'ready';
      this.problem = undefined;
    } catch (error) {
      this.problem = error as Problem;
      this.state = 'failed';
    }
  }

  async refresh(): Promise<void> {
    this.boats = await allBoats();
  }

  /** What a kind of part is called. */
  kind(kind: string): string {
    return this.vocabulary.kinds.find((k) => k.kind === kind)?.label ?? kind;
  }

  field(path: string): Field | undefined {
    const [part, key] = path.split('.');
    return this.vocabulary.fields.find((f) => f.part === part && f.key === key);
  }
}

export const boathouse = new Boathouse();
