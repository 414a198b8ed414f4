/** Whether forecasts count what the boat's runs taught, or the boat as it was bought. */
import { keep, kept } from '$lib/state/kept';

class Knowing {
  /** Only so many of the first runs count, while a season is played forward. */
  first = $state<number | undefined>();
  learnt = $state(kept<boolean>('learnt') ?? true);

  choose(learnt: boolean): void {
    this.learnt = learnt;
    keep('learnt', learnt);
  }

  /** What a request says of it; whose boat it is the request itself says. */
  get lessons(): string {
    if (!this.learnt) return 'bought';
    return this.first === undefined ? 'learnt' : `first ${this.first}`;
  }
}

export const knowing = new Knowing();
