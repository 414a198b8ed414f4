/** Where a number comes from: asked by pointer or by key, answered in one place. */
import type { Forecast, SetupDocument } from '$lib/api/client';

/** A forecast with what it was made from. */
export type OnSheet = { forecast: Forecast; document: SetupDocument; guesses?: () => void };

class OriginState {
  /** The number that is asked about, as `point.speed_mps` or `limit.pack_current`; empty for all of them. */
  asked = $state('');
  open = $state(false);
  /** The forecast on the sheet, where a draft is being tried; elsewhere the setup's own is asked for. */
  onSheet = $state.raw<OnSheet | undefined>();

  ask(key = ''): void {
    this.asked = key;
    this.open = true;
  }
}

export const origin = new OriginState();
