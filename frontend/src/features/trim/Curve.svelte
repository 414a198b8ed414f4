<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { TrimCurve, TrimKnob } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { fromSi, trimmed, unitLabel, units } from '$lib/units/units.svelte';

  import { shownAs } from './trim';

  /** One measure over one knob: the curve with its band, the runs on it, where it stands and where to go next. */
  let {
    knob,
    curve,
    at,
    next,
  }: { knob: TrimKnob; curve: TrimCurve; at: number | undefined; next: number | undefined } = $props();

  let width = $state(560);
  const height = 250;
  const box = { left: 46, right: 14, top: 24, bottom: 44 };
  type Row = TrimCurve['line'][number];
  const as = $derived(shownAs(curve));
  const read = (si: number): number => {
    const unit = units.unit(as.dimension);
    return si * unit.factor + unit.offset;
  };
  const unit = $derived(as.unit ?? units.unit(as.dimension).unit);
  const say = (si: number): string => `${read(si).toFixed(as.digits)} ${unit}`;
  const value = (si: number): number => fromSi(si, knob.unit);
  const ends = $derived([curve.line[0]?.at ?? 0, curve.line.at(-1)?.at ?? 1].map(value) as [number, number]);
  const all = $derived.by(() => {
    const [middle, points] = [curve.line.map((r) => read(r.middle)), curve.points.map((p) => read(p.read))];
    const reach = Math.max(...middle, ...points) - Math.min(...middle, ...points) || 1;
    return [...points, ...middle.flatMap((v) => [v - 0.25 * reach, v + 0.25 * reach])];
  });
  const x = $derived(scaleLinear(ends, [box.left, width - box.right]));
  const y = $derived(scaleLinear([Math.min(...all), Math.max(...all)], [height - box.bottom, box.top]).nice(5));
  const clip = (v: number): number => Math.min(Math.max(y(read(v)), box.top), height - box.bottom);
  const band = $derived(
    area<Row>()
      .x((r) => x(value(r.at)))
      .y0((r) => clip(r.low))
      .y1((r) => clip(r.high)),
  );
  const middle = $derived(
    line<Row>()
      .x((r) => x(value(r.at)))
      .y((r) => clip(r.middle)),
  );
  const readings = $derived(
    curve.line.map((r) => ({
      px: x(value(r.at)),
      cells: [
        `${trimmed(Number(value(r.at).toFixed(2)))} ${unitLabel(knob.unit)}`,
        say(r.middle),
        `${say(r.low)} to ${say(r.high)}`,
      ],
    })),
  );
</script>

<Frame
  bind:width
  {height}
  {box}
  name="{curve.words} over {knob.label.toLowerCase()}"
  label="{curve.words} over {knob.label.toLowerCase()}: {curve.points.length} runs at {curve.settings} settings"
  x={x.ticks(width > 420 ? 8 : 5).map((t) => ({ px: x(t), text: String(t) }))}
  y={y.ticks(5).map((t) => ({ px: y(t), text: String(t) }))}
  xLabel="{knob.label.toLowerCase()}, {unitLabel(knob.unit)}"
  yLabel={unit}
  columns={['setting', curve.words, '80 % band']}
  {readings}
  keys={[
    { sign: 'circle', words: 'runs, in the conditions of this setup' },
    {
      sign: 'dashed',
      words: curve.measure === 'speed' || curve.measure === 'heat' ? 'by model and runs' : 'by runs',
      tone: 'water',
    },
    { sign: 'band', words: '80 % band', tone: 'water' },
    ...(next === undefined ? [] : [{ sign: 'diamond' as const, words: 'worth trying next' }]),
  ]}
>
  <path d={band(curve.line)} class="band" />
  <path d={middle(curve.line)} class="curve" />
  {#if at !== undefined}
    <line x1={x(value(at))} x2={x(value(at))} y1={box.top} y2={height - box.bottom} class="here" />
  {/if}
  {#if next !== undefined}
    {@const px = x(value(next))}
    <path d="M{px} {height - box.bottom - 12} l6 6 l-6 6 l-6 -6 Z" class="next" />
  {/if}
  {#each curve.points as p (p.run_id)}
    <circle cx={x(value(p.at))} cy={y(read(p.read))} r="5" class="run" />
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
