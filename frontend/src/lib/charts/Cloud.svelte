<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { Search } from '$lib/api/client';
  import { units } from '$lib/units/units.svelte';

  import { unitTicks } from './ticks';

  /** Speed against the tightest limit: a grain for each drive, the fronts as a staircase; past 100 % it is hatched. */
  let { search, at = -1 }: { search: Search; at?: number } = $props();

  let width = $state(600);
  const height = 190;
  const box = { left: 44, right: 10, top: 8, bottom: 32 };
  const most = 1.8;
  const speeds = $derived(search.cloud.map(([speed]) => speed));
  const x = $derived(
    scaleLinear(
      [0, Math.max(...speeds, ...search.found.map((f) => f.speed_mps)) * 1.04],
      [box.left, width - box.right],
    ),
  );
  const y = scaleLinear([0, most], [height - box.bottom, box.top]).clamp(true);
</script>

<div bind:clientWidth={width}>
  <svg {width} {height} role="img" aria-label="Speed against the tightest limit of {search.tried} drives">
    <rect
      x={box.left}
      y={box.top}
      width={width - box.left - box.right}
      height={y(1) - box.top}
      fill="url(#hatch-short)"
    />
    <line x1={box.left} x2={width - box.right} y1={y(1)} y2={y(1)} class="limit" />
    {#each search.cloud as [speed, use], k (k)}
      <rect x={x(speed) - 1} y={y(use) - 1} width="2" height="2" class="grain" />
    {/each}
    {#each search.found as found, k (k)}
      {@const cx = x(found.speed_mps)}
      {@const cy = y(found.use)}
      {#if found.on_margin_front}<circle {cx} {cy} r={k === at ? 7 : 4} class="front" class:now={k === at} />
      {:else}<path d="M{cx} {cy - 5} l5 5 l-5 5 l-5 -5 Z" class="front" class:now={k === at} />{/if}
    {/each}
    <line x1={box.left} x2={width - box.right} y1={y(0)} y2={y(0)} class="axis" />
    {#each unitTicks(x.domain(), 'speed', 7) as t (t.at)}<text
        x={x(t.at)}
        y={height - 14}
        class="tick"
        text-anchor="middle">{t.text}</text
      >{/each}
    <text x={width - box.right} y={height - 1} class="tick" text-anchor="end">{units.unit('speed').unit}</text>
    {#each [0, 0.5, 1, 1.5] as t (t)}<text x={box.left - 5} y={y(t) + 4} class="tick" text-anchor="end">{t * 100}%</text
      >{/each}
  </svg>
</div>

<style>
  svg {
    display: block;
  }
  .grain {
    fill: var(--water);
    opacity: 0.4;
  }
  .front {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.5;
  }
  .front.now {
    fill: var(--ink);
  }
  .limit,
  .axis {
    stroke: var(--ink);
  }
</style>
