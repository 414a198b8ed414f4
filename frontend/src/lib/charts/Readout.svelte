<script lang="ts">
  import { nearest, said, thinned, type Reading } from './frame';

  /**
   * Reads a chart: by the pointer, by the arrow keys, and as a table for those who hear it.
   * Lies over the drawing; a drawing that is pressed at gets its own presses all the same.
   */
  let {
    label,
    columns,
    readings,
    height,
    at = $bindable(-1),
  }: { label: string; columns: string[]; readings: Reading[]; height: number; at?: number } = $props();

  let focused = $state(false);
  const reading = $derived(at >= 0 ? readings[Math.min(at, readings.length - 1)] : undefined);
  /** The table follows when the hand rests: nobody hears it while a knob is pulled. */
  let table = $state.raw<Reading[]>([]);
  $effect(() => {
    const now = readings;
    const later = setTimeout(() => (table = thinned(now)), 150);
    return () => clearTimeout(later);
  });

  function onkeydown(event: KeyboardEvent): void {
    const last = readings.length - 1;
    const to = { ArrowLeft: at - 1, ArrowRight: at + 1, PageDown: at - 10, PageUp: at + 10, Home: 0, End: last }[
      event.key
    ];
    if (to === undefined) return;
    at = Math.min(Math.max(to, 0), last);
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div
  class="absolute inset-x-0 top-0 touch-pan-y"
  style:height="{height}px"
  role="slider"
  tabindex="0"
  aria-label="Read the chart: {label}"
  aria-valuemin={0}
  aria-valuemax={Math.max(readings.length - 1, 0)}
  aria-valuenow={Math.max(at, 0)}
  aria-valuetext={said(columns, reading) || 'Arrow keys read along it'}
  {onkeydown}
  onfocus={() => ((focused = true), (at = at < 0 ? Math.floor(readings.length / 2) : at))}
  onblur={() => ((focused = false), (at = -1))}
  onpointermove={(e) => (at = nearest(readings, e.clientX - e.currentTarget.getBoundingClientRect().left))}
  onpointerleave={() => (at = focused ? at : -1)}
></div>
{#if reading}
  <span
    class="pointer-events-none absolute top-0 w-0 border-l border-ink/60"
    style:left="{reading.px}px"
    style:height="{height}px"
  ></span>
  <span
    class={[
      'pointer-events-none absolute top-0 border border-ink bg-sheet px-1.5 text-[0.84rem] whitespace-nowrap',
      'max-w-full truncate font-stretch-[85%]',
    ]}
    style:left={reading.px < 260 ? `${reading.px + 6}px` : undefined}
    style:right={reading.px < 260 ? undefined : `calc(100% - ${reading.px - 6}px)`}
    data-testid="readout">{said(columns, reading)}</span
  >
{/if}
<!-- A plain table: it is drawn anew with every pull at a knob, and nobody sees it. -->
<table class="visually-hidden">
  <caption>{label}</caption>
  <thead
    ><tr
      >{#each columns as column (column)}<th scope="col">{column}</th>{/each}</tr
    ></thead
  >
  <tbody>
    {#each table as row, k (k)}
      <tr
        >{#each row.cells as cell, c (c)}<td>{cell}</td>{/each}</tr
      >
    {/each}
  </tbody>
</table>
