<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { PackCourse, PackRun } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { day } from '$lib/units/day';
  import { trimmed } from '$lib/units/units.svelte';

  /** One quantity of a pack over its runs: what each run says, the curve through them, and where a pack is retired. */
  let {
    name,
    unit,
    course,
    runs,
    of,
  }: {
    name: string;
    unit: string;
    course: PackCourse;
    runs: PackRun[];
    of: 'resistance_ohm' | 'capacity_ah';
  } = $props();

  let width = $state(360);
  const HEIGHT = 190;
  const BOX = { left: 48, right: 12, top: 24, bottom: 40 };
  const SMALL = 1000; // mΩ and mAh

  const read = $derived(runs.flatMap((run) => (run[of] ? [{ run, one: run[of] }] : [])));
  const first = $derived(Math.min(course.number[0]!, ...read.map(({ run }) => run.number)));
  const last = $derived(Math.max(course.number.at(-1)!, first + 1));
  const values = $derived([...course.low, ...course.high, ...read.map(({ one }) => one.value), course.limit]);
  const ends = $derived([Math.min(...values) * SMALL, Math.max(...values) * SMALL]);
  const x = $derived(scaleLinear([first, last], [BOX.left + 8, width - BOX.right]));
  const y = $derived(scaleLinear(ends, [HEIGHT - BOX.bottom, BOX.top]).nice(4));
  const at = (value: number): number => Math.max(Math.min(y(value * SMALL), HEIGHT - BOX.bottom), BOX.top);
  const rows = $derived(
    course.number.map((n, k) => ({ n, low: course.low[k]!, mid: course.value[k]!, high: course.high[k]! })),
  );
  type Row = (typeof rows)[number];
  const band = $derived(
    area<Row>()
      .x((r) => x(r.n))
      .y0((r) => at(r.low))
      .y1((r) => at(r.high)),
  );
  const curve = $derived(
    line<Row>()
      .x((r) => x(r.n))
      .y((r) => at(r.mid)),
  );
  const text = (value: number): string => `${trimmed(Number((value * SMALL).toPrecision(3)))} ${unit}`;
</script>

<Frame
  label={`${name} by run: ${text(course.value.at(-1)!)} now, retired at ${text(course.limit)}`}
  {name}
  bind:width
  height={HEIGHT}
  box={BOX}
  x={x
    .ticks(5)
    .filter(Number.isInteger)
    .map((n) => ({ px: x(n), text: String(n) }))}
  y={y.ticks(4).map((v) => ({ px: y(v), text: String(v) }))}
  xLabel="runs of the pack"
  yLabel={`${name}, ${unit}`}
  columns={['Run', 'Day', name]}
  readings={read.map(({ run, one }) => ({
    px: x(run.number),
    cells: [String(run.number), day(run.at), text(one.value)],
  }))}
>
  <path d={band(rows)} class="fill-water" opacity="0.16" />
  <path d={curve(rows)} class="fill-none stroke-water stroke-2" />
  <line
    x1={BOX.left}
    x2={width - BOX.right}
    y1={at(course.limit)}
    y2={at(course.limit)}
    class="stroke-vermilion"
    stroke-dasharray="6 3"
  />
  <text x={width - BOX.right} y={at(course.limit) - 5} class="tick text-vermilion" text-anchor="end" fill="currentColor"
    >retire</text
  >
  {#each read as { run, one } (run.run_id)}
    <line x1={x(run.number)} x2={x(run.number)} y1={at(one.low)} y2={at(one.high)} class="stroke-ink-2" />
    <circle cx={x(run.number)} cy={at(one.value)} r="3.4" class="fill-paper stroke-ink stroke-[1.5]" />
  {/each}
</Frame>
