<script lang="ts">
  import type { Forecast } from '$lib/api/client';

  import { crossing } from './crossing';

  /** The crossing in small, beside the answer, so that it is seen while a knob is pulled; the chart below says more. */
  let { forecast, ghost }: { forecast: Forecast; ghost?: Forecast | undefined } = $props();

  const drawn = $derived(crossing(forecast, ghost));
</script>

<svg viewBox="0 0 170 76" width="170" height="76" aria-hidden="true" class="flex-none max-xl:hidden">
  <path d="M2 74 H168 M2 74 V2" class="axis" />
  {#each drawn.ghosts as d (d)}<path {d} class="ghost" />{/each}
  <path d={drawn.thrust} class="thrust" />
  <path d={drawn.resistance} class="resistance" />
  <circle cx={drawn.x} cy={drawn.y} r="4" class="point" />
</svg>

<style>
  path {
    fill: none;
    stroke-width: 1.6;
  }
  .axis {
    stroke: var(--rule);
    stroke-width: 1;
  }
  .thrust {
    stroke: var(--ink);
    stroke-dasharray: 5 3;
  }
  .resistance {
    stroke: var(--water);
    stroke-dasharray: 5 3;
  }
  .ghost {
    stroke: var(--ghost);
    stroke-width: 1;
    stroke-dasharray: 1.5 2.5;
  }
  .point {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 2;
  }
</style>
