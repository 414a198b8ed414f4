/** Where a number comes from: asked by pointer or by key, answered in one place. */
import type { Forecast } from '$lib/api/client';

class OriginState {
  /** The number that is asked about, as `point.speed_mps` or `limit.pack_current`; empty for all of them. */
  asked = $state('');
  open = $state(false);
  /** What is on the sheet; told by the screen that shows it. */
  forecast = $state.raw<Forecast | undefined>();

  ask(key = ''): void {
    this.asked = key;
    this.open = true;
  }
}

export const origin = new OriginState();
