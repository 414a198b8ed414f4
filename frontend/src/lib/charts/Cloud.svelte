<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { Search } from '$lib/api/client';
  import { units } from '$lib/units/units.svelte';

  import Frame from './Frame.svelte';
  import { unitTicks } from './ticks';

  /** Speed against the tightest limit: a grain for each drive, the fronts as a staircase; past 100 % it is hatched. */
  let { search, at = -1 }: { search: Search; at?: number } = $props();

  let width = $state(600);
  const height = 206;
  const box = { left: 44, right: 10, top: 22, bottom: 40 };
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

<Frame
  bind:width
  {height}
  {box}
  name="speed against the tightest limit"
  label="Speed against the tightest limit of {search.tried} drives"
  x={unitTicks(x.domain(), 'speed', 7).map((t) => ({ px: x(t.at), text: t.text }))}
  y={[0, 0.5, 1, 1.5].map((t) => ({ px: y(t), text: `${t * 100}%` }))}
  xLabel="speed, {units.unit('speed').unit}"
  yLabel="limit"
  columns={['speed', 'tightest limit', 'drive']}
  readings={[...search.found]
    .sort((a, b) => a.speed_mps - b.speed_mps)
    .map((f) => ({
      px: x(f.speed_mps),
      cells: [units.text(f.speed_mps, 'speed', 0), `${Math.round(f.use * 100)}%`, f.words],
    }))}
  keys={[
    { sign: 'circle', words: 'fastest for its margin' },
    { sign: 'diamond', words: 'fastest for its run time' },
    { sign: 'short', words: 'past a limit' },
  ]}
>
  <rect
    x={box.left}
    y={box.top}
    width={width - box.left - box.right}
    height={y(1) - box.top}
    fill="url(#hatch-short)"
  />
  <line x1={box.left} x2={width - box.right} y1={y(1)} y2={y(1)} class="stroke-ink" />
  {#each search.cloud as [speed, use], k (k)}
    <rect x={x(speed) - 1} y={y(use) - 1} width="2" height="2" class="grain" />
  {/each}
  {#each search.found as found, k (k)}
    {@const cx = x(found.speed_mps)}
    {@const cy = y(found.use)}
    {#if found.on_margin_front}<circle {cx} {cy} r={k === at ? 7 : 4} class="front" class:now={k === at} />
    {:else}<path d="M{cx} {cy - 5} l5 5 l-5 5 l-5 -5 Z" class="front" class:now={k === at} />{/if}
  {/each}
</Frame>

<style>
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
</style>
