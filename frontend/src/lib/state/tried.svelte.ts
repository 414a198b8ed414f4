/** What a racer asks for, with what was wrong with it; the next try begins without it. */
import type { Problem } from '$lib/api/client';

export class Tried {
  problem = $state.raw<Problem | undefined>();

  /** Whether it worked. */
  async run(what: () => Promise<unknown>): Promise<boolean> {
    this.problem = undefined;
    try {
      await what();
      return true;
    } catch (error) {
      this.problem = error as Problem;
      return false;
    }
  }
}
