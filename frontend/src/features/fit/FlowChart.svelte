<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';

  import type { SolvedCircuit } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { unitTicks } from '$lib/charts/ticks';
  import { units } from '$lib/units/units.svelte';

  /** Flow through motor and controller against the boat's speed. */
  let { solved }: { solved: SolvedCircuit } = $props();

  let width = $state(500);
  const height = 200;
  const box = { left: 40, right: 12, top: 24, bottom: 42 };
  const top = $derived(Math.max(0.1, ...solved.motor_l_min, ...solved.controller_l_min));
  const x = $derived(scaleLinear([0, solved.full_mps], [box.left, width - box.right]));
  const y = $derived(scaleLinear([0, top * 1.1], [height - box.bottom, box.top]));
  /** Which line is which, at its end; one word for both where they run together. */
  const ends = $derived.by(() => {
    const [motor, controller] = [solved.motor_l_min.at(-1) ?? 0, solved.controller_l_min.at(-1) ?? 0];
    if (Math.abs(motor - controller) < 0.12 * top) return [{ words: 'motor and controller', y: y(motor) }];
    return [
      { words: 'motor', y: y(motor) },
      { words: 'controller', y: y(controller) },
    ];
  });
  const path = (values: number[]) =>
    line<number>()
      .x((_, k) => x(solved.speed_mps[k] ?? 0))
      .y((v) => y(v))(values) ?? '';
</script>

<Frame
  bind:width
  {height}
  {box}
  name="flow against speed"
  label="Flow through motor and controller against speed"
  x={unitTicks(x.domain(), 'speed', 6).map((t) => ({ px: x(t.at), text: t.text }))}
  y={y.ticks(4).map((t) => ({ px: y(t), text: String(t) }))}
  xLabel="speed, {units.unit('speed').unit}"
  yLabel="L/min"
  columns={['speed', 'motor', 'controller']}
  readings={solved.speed_mps.map((v, k) => ({
    px: x(v),
    cells: [
      units.text(v, 'speed', 0),
      `${(solved.motor_l_min[k] ?? 0).toFixed(2)} L/min`,
      `${(solved.controller_l_min[k] ?? 0).toFixed(2)} L/min`,
    ],
  }))}
>
  <path d={path(solved.motor_l_min)} class="motor" />
  <path d={path(solved.controller_l_min)} class="controller" />
  {#each ends as end (end.words)}
    <text x={width - 14} y={end.y - 6} class="said" text-anchor="end">{end.words}</text>
  {/each}
</Frame>

<style>
  .motor,
  .controller {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
    stroke-dasharray: 7 4;
  }
  .controller {
    stroke: var(--water);
    stroke-dasharray: 2 3;
  }
</style>
