<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Margin } from '$lib/api/client';
  import { origin } from '$lib/state/origin.svelte';
  import { row } from '$lib/ui/theme';
  import { VERDICTS } from '$lib/ui/verdicts';
  import { grouped } from '$lib/units/units.svelte';

  import { loadBar } from './load';

  /** One load against its limit: the bar is the load, the hatches are what lies past the limits. */
  let { margin, ghost }: { margin: Margin; ghost?: Margin | undefined } = $props();

  const bar = $derived(loadBar(margin));
  const ghostAt = $derived(
    ghost && Math.abs(ghost.load - margin.load) > 1e-6 * Math.abs(margin.load) ? bar.at(ghost.load) : undefined,
  );
  const digits = $derived(margin.unit === 'V' ? 2 : 0);
</script>

<div class="{margin.verdict === 'holds' ? '' : margin.verdict === 'stop' ? 'stop' : 'short'} relative mb-1.5">
  <div class="flex justify-between gap-1.5 text-[0.82rem] font-stretch-[80%] text-ink-2">
    <Button
      class={[row, 'min-h-5 truncate text-ink-2']}
      title="Where does this come from?"
      onclick={() => origin.ask(`limit.${margin.key}`)}>{margin.title}</Button
    >
    <span class="whitespace-nowrap">
      <b class="text-ink font-semibold">{grouped(margin.load, digits)}</b>
      {margin.rising ? 'of' : 'over'} <span class:guess={margin.guessed}>{grouped(margin.limit, digits)}</span><span
        class="unit">{margin.unit}</span
      >
    </span>
  </div>
  <div class="relative">
    <svg
      class="block w-full h-2.5 border-b border-b-ink"
      viewBox="0 0 100 10"
      preserveAspectRatio="none"
      role="img"
      aria-label="{margin.title}, {VERDICTS[margin.verdict]}: {margin.reason}"
    >
      <rect x="0" y="2" width={bar.load} height="6" class="fill" />
      <line x1={bar.limit} x2={bar.limit} y1="0" y2="10" class="limit" />
      {#if ghostAt !== undefined}<line x1={ghostAt} x2={ghostAt} y1="0" y2="10" class="ghost" />{/if}
    </svg>
    <!-- The hatches are drawn apart, unstretched. -->
    <svg class="absolute inset-0 block h-2.5 w-full opacity-85" aria-hidden="true">
      {#if margin.rising}
        <rect x="{bar.limit}%" y="0" width="{bar.stop - bar.limit}%" height="100%" fill="url(#hatch-short)" />
        <rect x="{bar.stop}%" y="0" width="{100 - bar.stop}%" height="100%" fill="url(#hatch-stop)" />
      {:else}
        <rect x="{bar.stop}%" y="0" width="{bar.limit - bar.stop}%" height="100%" fill="url(#hatch-short)" />
        <rect x="0" y="0" width="{bar.stop}%" height="100%" fill="url(#hatch-stop)" />
      {/if}
    </svg>
  </div>
  {#if margin.verdict !== 'holds'}<div class="verdict font-semibold text-[0.85rem]">
      {VERDICTS[margin.verdict]}
    </div>{/if}
</div>

<style>
  .short b,
  .short .verdict {
    color: var(--ochre);
  }
  .stop b,
  .stop .verdict {
    color: var(--vermilion);
  }
  .fill {
    fill: var(--ink);
  }
  .limit {
    stroke: var(--ink);
    stroke-width: 2;
    vector-effect: non-scaling-stroke;
  }
  .ghost {
    stroke: var(--ghost);
    stroke-width: 2;
    stroke-dasharray: 3 2;
    vector-effect: non-scaling-stroke;
  }
</style>
