<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';

  import type { Answer } from '$lib/api/client';
  import { units } from '$lib/units/units.svelte';

  import Frame from './Frame.svelte';

  /** The shaft power that the hull takes against speed, with today's setup, the wish and the answers on it. */
  let {
    speedMps,
    powerW,
    now,
    wantedMps,
    answers = [],
    chosen = 0,
  }: {
    speedMps: number[];
    powerW: number[];
    now?: { speed: number; power: number; name: string } | undefined;
    wantedMps?: number | undefined;
    answers?: Answer[];
    chosen?: number;
  } = $props();

  let width = $state(600);
  const height = 330;
  const box = { left: 52, right: 16, top: 22, bottom: 44 };
  const factor = $derived(units.unit('speed').factor);
  const x = $derived(scaleLinear([0, (speedMps.at(-1) ?? 1) * factor], [box.left, width - box.right]));
  const y = $derived(scaleLinear([0, Math.max(...powerW, now?.power ?? 0) * 1.05], [height - box.bottom, box.top]));
  const curve = $derived(
    line<number>()
      .x((_, k) => x((speedMps[k] ?? 0) * factor))
      .y((p) => y(p))(powerW),
  );
  function powerAt(speed: number): number {
    const k = speedMps.findIndex((v) => v >= speed);
    return powerW[k < 0 ? powerW.length - 1 : k] ?? 0;
  }
</script>

<Frame
  bind:width
  {height}
  {box}
  name="shaft power against speed"
  label="Shaft power against speed{wantedMps
    ? `; the target of ${units.text(wantedMps, 'speed')} needs about ${Math.round(powerAt(wantedMps))} W`
    : ''}"
  x={x.ticks(8).map((t) => ({ px: x(t), text: String(t) }))}
  y={y.ticks(5).map((t) => ({ px: y(t), text: String(t) }))}
  xLabel="speed, {units.unit('speed').unit}"
  yLabel="W"
  columns={['speed', 'shaft power']}
  readings={speedMps.map((v, k) => ({
    px: x(v * factor),
    cells: [units.text(v, 'speed', 0), `${Math.round(powerW[k] ?? 0)} W`],
  }))}
  keys={[
    { sign: 'dashed', words: 'power it takes, forecast', tone: 'water' },
    ...(answers.length ? [{ sign: 'diamond' as const, words: 'drives that reach the target' }] : []),
  ]}
>
  <path d={curve} class="curve" />
  {#if wantedMps}
    {@const p = powerAt(wantedMps)}
    <path d="M{x(wantedMps * factor)} {height - box.bottom} V{y(p)} H{box.left}" class="wish" />
    <text x={box.left + 6} y={y(p) - 6} class="said"
      >target: {units.text(wantedMps, 'speed', 0)} takes {Math.round(p)} W at the shaft</text
    >
  {/if}
  {#each answers as answer, k (k)}
    <rect
      x={x(answer.speed_mps * factor) - 5}
      y={y(answer.shaft_power_w) - 5}
      width="10"
      height="10"
      class="answer"
      class:chosen={k === chosen}
      transform="rotate(45 {x(answer.speed_mps * factor)} {y(answer.shaft_power_w)})"
    />
  {/each}
  {#if now}
    <circle cx={x(now.speed * factor)} cy={y(now.power)} r="6" class="now" />
    <text x={x(now.speed * factor) - 10} y={y(now.power) - 10} class="said" text-anchor="end">{now.name}</text>
  {/if}
</Frame>

<style>
  .curve {
    fill: none;
    stroke: var(--water);
    stroke-width: 2.4;
    stroke-dasharray: 7 4;
  }
  .wish {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.2;
    stroke-dasharray: 2 3;
  }
  .answer {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .answer.chosen {
    fill: var(--ink);
  }
  .now {
    fill: var(--water);
    stroke: var(--paper);
    stroke-width: 2;
  }
</style>
