<script lang="ts">
  import type { HullType } from '$lib/api/client';
  import { outline } from './outline';

  /** A boat from above, drawn from its type and length; lengths compare between boats. */
  let { type, lengthM, wide = 84 }: { type: HullType; lengthM: number; wide?: number } = $props();
  const drawn = $derived(outline(type, lengthM));
</script>

<svg viewBox="0 0 100 40" width={wide} height={wide * 0.4} aria-hidden="true">
  {#each drawn.hulls as d (d)}<path {d} class="hull" />{/each}
  {#each drawn.lines as d (d)}<path {d} class="line" />{/each}
</svg>

<style>
  .hull {
    fill: var(--sheet);
    stroke: currentColor;
    stroke-width: 1.6;
    stroke-linejoin: round;
  }
  .line {
    fill: none;
    stroke: currentColor;
    stroke-width: 1;
  }
</style>
