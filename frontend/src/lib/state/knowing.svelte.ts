/** Whether forecasts count what the boat's runs taught, or the boat as it was bought. */
import { keep, kept } from '$lib/state/kept';

class Knowing {
  /** Whose runs count: the boat on the sheet. */
  boatId = $state<number | undefined>();
  /** Only so many of the first runs count, while a season is played forward. */
  first = $state<number | undefined>();
  learnt = $state(kept<boolean>('learnt') ?? true);

  choose(learnt: boolean): void {
    this.learnt = learnt;
    keep('learnt', learnt);
  }

  /** What a request says of it. */
  get header(): Record<string, string> {
    if (!this.learnt || !this.boatId) return {};
    return { Boat: String(this.boatId), ...(this.first === undefined ? {} : { Runs: String(this.first) }) };
  }
}

export const knowing = new Knowing();
