<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { Pond } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { shortDay } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import { dateOf, dayOfYear, MONTHS } from './year';

  /** A pond's water through the year with its 80 % band, what was read of it, and the day that was asked for. */
  let { pond }: { pond: Pond } = $props();

  let width = $state(480);
  const height = 210;
  const box = { left: 40, right: 12, top: 14, bottom: 40 };
  const shown = (celsius: number): number =>
    celsius * units.unit('temperature').factor + units.unit('temperature').offset;

  const x = $derived(scaleLinear([1, 366], [box.left, width - box.right]));
  const top = $derived(Math.max(24, ...pond.year.map((one) => one.high_c), ...pond.water.map((one) => one.celsius)));
  const y = $derived(scaleLinear([shown(0), shown(top)], [height - box.bottom, box.top]));
  type Row = Pond['year'][number];
  const band = $derived(
    area<Row>()
      .x((r) => x(r.day))
      .y0((r) => y(shown(r.low_c)))
      .y1((r) => y(shown(r.high_c))),
  );
  const curve = $derived(
    line<Row>()
      .x((r) => x(r.day))
      .y((r) => y(shown(r.celsius))),
  );
  const short = $derived(width < 420);
  const text = (celsius: number): string => units.text(celsius, 'temperature', 0);
</script>

<Frame
  bind:width
  {height}
  {box}
  name="water through the year"
  label="Water of {pond.name} through the year: {text(Math.min(...pond.year.map((r) => r.celsius)))} to {text(
    Math.max(...pond.year.map((r) => r.celsius)),
  )}"
  x={MONTHS.map(([day, words], k) => ({ px: x(day + 15), text: short && k % 2 ? '' : words }))}
  y={y.ticks(5).map((t) => ({ px: y(t), text: String(t) }))}
  xLabel=""
  yLabel={units.unit('temperature').unit}
  columns={['when', 'water', '80 % band']}
  readings={pond.year.map((r) => ({
    px: x(r.day),
    cells: [
      shortDay(dateOf(r.day)),
      text(r.celsius),
      `${units.show(r.low_c, 'temperature', 0).text} to ${text(r.high_c)}`,
    ],
  }))}
  keys={[
    { sign: 'dashed', words: 'water', tone: 'water' },
    { sign: 'band', words: '80 % band', tone: 'water' },
    ...(pond.water.length ? [{ sign: 'circle' as const, words: 'read' }] : []),
  ]}
>
  <path d={band(pond.year)} class="fill-water/15" />
  <path d={curve(pond.year)} class="fill-none stroke-water" stroke-width="1.8" stroke-dasharray="6 3" />
  <line x1={x(pond.asked.day)} x2={x(pond.asked.day)} y1={box.top} y2={height - box.bottom} class="stroke-ink-2" />
  {#each pond.water as read, k (k)}
    <circle
      cx={x(dayOfYear(read.on))}
      cy={y(shown(read.celsius))}
      r="4"
      class="fill-paper stroke-ink"
      stroke-width="1.6"
    />
  {/each}
</Frame>
