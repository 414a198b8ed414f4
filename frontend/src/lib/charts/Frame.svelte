<script lang="ts">
  import type { Snippet } from 'svelte';

  import Axes from './Axes.svelte';
  import type { AxesProps, Key, Reading } from './frame';
  import Keys from './Keys.svelte';
  import Readout from './Readout.svelte';

  /** The frame of a chart: axes with ticks and units, what is drawn within, legend, readout, table. */
  let {
    label,
    name,
    width = $bindable(600),
    height,
    box,
    x,
    y,
    xLabel,
    yLabel,
    grid = true,
    keys = [],
    columns,
    readings,
    at = $bindable(-1),
    children,
  }: {
    /** What is seen, in a sentence. */
    label: string;
    /** What the chart is, in few words. */
    name: string;
    keys?: Key[];
    columns: string[];
    readings: Reading[];
    at?: number;
    children: Snippet;
  } & Omit<AxesProps, 'width'> & { width?: number } = $props();

  const floor = $derived(height - box.bottom);
</script>

<figure class="m-0 min-w-0">
  <div class="relative" bind:clientWidth={width}>
    <svg {width} {height} role="img" aria-label={label} class="block overflow-visible">
      <Axes {width} {height} {box} {x} {y} {xLabel} {yLabel} {grid} />
      {@render children()}
    </svg>
    <Readout label={name} {columns} {readings} height={floor} bind:at />
  </div>
  {#if keys.length}<figcaption><Keys {keys} /></figcaption>{/if}
</figure>
