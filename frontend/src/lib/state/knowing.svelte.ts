/** Whether forecasts count what the boat's runs taught, or the boat as it was bought. */
import { keep, kept } from '$lib/state/kept';

class Knowing {
  /** Whose runs count: the boat on the sheet. */
  boatId = $state<number | undefined>();
  learnt = $state(kept<boolean>('learnt') ?? true);

  choose(learnt: boolean): void {
    this.learnt = learnt;
    keep('learnt', learnt);
  }

  /** What a request says of it. */
  get header(): Record<string, string> {
    return this.learnt && this.boatId ? { Boat: String(this.boatId) } : {};
  }
}

export const knowing = new Knowing();
