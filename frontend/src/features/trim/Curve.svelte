<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { TrimKnob } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { fromSi, trimmed, unitLabel, units } from '$lib/units/units.svelte';

  /** Speed over one knob: the curve with its band, the runs on it, where it stands and where to go next. */
  let { knob, at, next }: { knob: TrimKnob; at: number | undefined; next: number | undefined } = $props();

  let width = $state(560);
  const height = 250;
  const box = { left: 46, right: 14, top: 24, bottom: 44 };
  type Row = TrimKnob['line'][number];
  const speed = $derived(units.unit('speed').factor);
  const value = (si: number): number => fromSi(si, knob.unit);
  const ends = $derived([knob.line[0]?.value ?? 0, knob.line.at(-1)?.value ?? 1].map(value) as [number, number]);
  const all = $derived([
    ...knob.line.flatMap((r) => [r.speed_mps * 0.985, r.speed_mps * 1.015]),
    ...knob.points.map((p) => p.speed_mps),
  ]);
  const x = $derived(scaleLinear(ends, [box.left, width - box.right]));
  const y = $derived(
    scaleLinear([Math.min(...all) * speed, Math.max(...all) * speed], [height - box.bottom, box.top]).nice(5),
  );
  const clip = (v: number): number => Math.min(Math.max(y(v * speed), box.top), height - box.bottom);
  const band = $derived(
    area<Row>()
      .x((r) => x(value(r.value)))
      .y0((r) => clip(r.low_mps))
      .y1((r) => clip(r.high_mps)),
  );
  const middle = $derived(
    line<Row>()
      .x((r) => x(value(r.value)))
      .y((r) => clip(r.speed_mps)),
  );
  const readings = $derived(
    knob.line.map((r) => ({
      px: x(value(r.value)),
      cells: [
        `${trimmed(Number(value(r.value).toFixed(2)))} ${unitLabel(knob.unit)}`,
        units.text(r.speed_mps, 'speed'),
        `${units.text(r.low_mps, 'speed')} to ${units.text(r.high_mps, 'speed')}`,
      ],
    })),
  );
</script>

<Frame
  bind:width
  {height}
  {box}
  name="speed over {knob.label.toLowerCase()}"
  label="Speed over {knob.label.toLowerCase()}: {knob.points.length} runs at {knob.settings} settings"
  x={x.ticks(width > 420 ? 8 : 5).map((t) => ({ px: x(t), text: String(t) }))}
  y={y.ticks(5).map((t) => ({ px: y(t), text: String(t) }))}
  xLabel="{knob.label.toLowerCase()}, {unitLabel(knob.unit)}"
  yLabel={units.unit('speed').unit}
  columns={['setting', 'speed', '80 % band']}
  {readings}
  keys={[
    { sign: 'circle', words: 'runs, in the conditions of this setup' },
    { sign: 'dashed', words: 'by model and runs', tone: 'water' },
    { sign: 'band', words: '80 % band', tone: 'water' },
    ...(next === undefined ? [] : [{ sign: 'diamond' as const, words: 'worth trying next' }]),
  ]}
>
  <path d={band(knob.line)} class="band" />
  <path d={middle(knob.line)} class="curve" />
  {#if at !== undefined}
    <line x1={x(value(at))} x2={x(value(at))} y1={box.top} y2={height - box.bottom} class="here" />
  {/if}
  {#if next !== undefined}
    {@const px = x(value(next))}
    <path d="M{px} {height - box.bottom - 12} l6 6 l-6 6 l-6 -6 Z" class="next" />
  {/if}
  {#each knob.points as p (p.run_id)}
    <circle cx={x(value(p.value))} cy={y(p.speed_mps * speed)} r="5" class="run" />
  {/each}
</Frame>

<style>
  .band {
    fill: var(--water);
    opacity: 0.16;
  }
  .curve {
    fill: none;
    stroke: var(--water);
    stroke-width: 2;
    stroke-dasharray: 6 4;
  }
  .here {
    stroke: var(--ghost);
    stroke-dasharray: 3 3;
  }
  .run {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 2.5;
  }
  .next {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.8;
  }
</style>
