/** Where the racer is, read from the address. */
import { boathouse } from '$lib/state/boathouse.svelte';
import type { Mark } from '$lib/state/go';

class Here {
  /** Set by the layout from the router's reactive pathname. */
  pathname = $state('/');

  readonly setupId = $derived(Number(/^\/setups\/(\d+)\//.exec(this.pathname)?.[1] ?? 0) || undefined);
  readonly mark = $derived((/^\/setups\/\d+\/(\w+)/.exec(this.pathname)?.[1] ?? undefined) as Mark | undefined);
  /** Boat that the setup belongs to; told by the screen that loaded it. */
  boatId = $state<number | undefined>();

  /** What the next change should bring, as an address or a tap asked; Match takes it up. */
  wish = $state(new URLSearchParams(globalThis.location?.search).get('want') ?? undefined);

  /** Whether the setup on the sheet goes together, as Fit last said. */
  fitted = $state(false);

  /** Whether all checks before the start are ticked, as Launch last said. */
  ready = $state(false);

  /** Whether runs with two settings of a knob are there, as Trim last said. */
  trimmed = $state(false);

  readonly boat = $derived(boathouse.boats.find((b) => b.id === this.boatId));
}

export const here = new Here();
