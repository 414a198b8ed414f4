<script lang="ts">
  import type { Margin } from '$lib/api/client';
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

<div class="load {margin.verdict === 'holds' ? '' : margin.verdict === 'stop' ? 'stop' : 'short'}">
  <div class="words">
    <span class="title">{margin.title}</span>
    <span class="numbers">
      <b>{grouped(margin.load, digits)}</b>
      {margin.rising ? 'of' : 'over'} <span class:guess={margin.guessed}>{grouped(margin.limit, digits)}</span><span
        class="unit">{margin.unit}</span
      >
    </span>
  </div>
  <svg
    class="bar"
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
  <svg class="hatch" aria-hidden="true">
    {#if margin.rising}
      <rect x="{bar.limit}%" y="0" width="{bar.stop - bar.limit}%" height="100%" fill="url(#hatch-short)" />
      <rect x="{bar.stop}%" y="0" width="{100 - bar.stop}%" height="100%" fill="url(#hatch-stop)" />
    {:else}
      <rect x="{bar.stop}%" y="0" width="{bar.limit - bar.stop}%" height="100%" fill="url(#hatch-short)" />
      <rect x="0" y="0" width="{bar.stop}%" height="100%" fill="url(#hatch-stop)" />
    {/if}
  </svg>
  {#if margin.verdict !== 'holds'}<div class="verdict">{VERDICTS[margin.verdict]}</div>{/if}
</div>

<style>
  .load {
    position: relative;
    margin-bottom: 0.35rem;
  }
  .words {
    display: flex;
    justify-content: space-between;
    gap: 0.4rem;
    font-size: 0.82rem;
    font-stretch: 80%;
    color: var(--ink-2);
  }
  .numbers {
    white-space: nowrap;
  }
  b {
    color: var(--ink);
    font-weight: 600;
  }
  .short b,
  .short .verdict {
    color: var(--ochre);
  }
  .stop b,
  .stop .verdict {
    color: var(--vermilion);
  }
  .bar,
  .hatch {
    display: block;
    width: 100%;
    height: 10px;
  }
  .hatch {
    position: absolute;
    left: 0;
    top: 1.32rem;
    opacity: 0.85;
  }
  .bar {
    border-bottom: 1px solid var(--ink);
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
  .verdict {
    font-weight: 600;
    font-size: 0.85rem;
  }
</style>
