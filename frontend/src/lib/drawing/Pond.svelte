<script lang="ts">
  import type { Shore } from '$lib/api/client';
  import type { Corner } from '$lib/state/shore.svelte';

  /** A pond's water and its longest straight, in metres with north up, within somebody's drawing. Own drawing: no
      library draws ponds. */
  let { corners, straight, unit }: { corners: Corner[]; straight: Shore['straight'] | undefined; unit: number } =
    $props();
</script>

{#if corners.length}
  <polygon
    points={corners.map(([east, north]) => `${east},${-north}`).join(' ')}
    class="fill-water/15 stroke-water"
    stroke-width={unit * 0.8}
    stroke-linejoin="round"
  />
{/if}
{#if straight}
  <line
    x1={straight.begin[0]}
    y1={-(straight.begin[1] ?? 0)}
    x2={straight.end[0]}
    y2={-(straight.end[1] ?? 0)}
    class="stroke-ink"
    stroke-width={unit}
    stroke-dasharray="{unit * 4} {unit * 2}"
  />
{/if}
