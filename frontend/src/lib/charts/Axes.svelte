<script lang="ts">
  import type { AxesProps } from './frame';

  /** Two axes with their ticks and units; within a drawing. */
  let { width, height, box, x, y, xLabel, yLabel, grid = true }: AxesProps = $props();

  const floor = $derived(height - box.bottom);
</script>

{#each y as t, k (k)}
  {#if grid}<line x1={box.left} x2={width - box.right} y1={t.px} y2={t.px} class="stroke-hair" />{/if}
  <text x={box.left - 7} y={t.px + 4} class="tick" text-anchor="end">{t.text}</text>
{/each}
<text x={2} y={box.top - 10} class="tick">{yLabel}</text>
{#each x as t, k (k)}
  <line x1={t.px} x2={t.px} y1={floor} y2={floor + 5} class="stroke-ink" />
  <text x={t.px} y={floor + 19} class="tick" text-anchor={t.px > width - 16 ? 'end' : 'middle'}>{t.text}</text>
{/each}
<text x={width - box.right} y={floor + 36} class="tick" text-anchor="end">{xLabel}</text>
<line x1={box.left} x2={width - box.right} y1={floor} y2={floor} class="stroke-ink stroke-[1.2]" />
