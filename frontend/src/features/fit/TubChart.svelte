<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { Tub } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { unitTicks } from '$lib/charts/ticks';
  import { toSi, units } from '$lib/units/units.svelte';

  import { outlook, type TubReading } from './tub.svelte';

  /** The motor case against time, held back at full throttle: forecast with its band, readings, ceiling, and its end. */
  let { view, readings, running, now }: { view: Tub; readings: TubReading[]; running: boolean; now: number } = $props();

  let width = $state(700);
  const height = 300;
  const box = { left: 46, right: 12, top: 26, bottom: 42 };
  const curve = $derived(readings.length ? view.fitted_c : view.prior_c);
  const last = $derived(readings.at(-1)?.seconds ?? 0);
  const ahead = $derived(outlook(view.time_s, curve));
  /** As far as the curve is level, or the pack empty. */
  const end = $derived(Math.min(600, Math.max(180, now + 60, last + 60, ahead.after_s * 1.08)));
  const shown = $derived(view.time_s.map((_, k) => k).filter((k) => (view.time_s[k] ?? 0) <= end));
  const most = $derived(Math.max(view.ceiling_c * 1.3, ...shown.map((k) => curve[k] ?? 0)) * 1.06);
  const x = $derived(scaleLinear([0, end], [box.left, width - box.right]));
  const y = $derived(scaleLinear([0, most], [height - box.bottom, box.top]).clamp(true));
  const path = (values: number[]) =>
    line<number>()
      .x((k) => x(view.time_s[k] ?? 0))
      .y((k) => y(values[k] ?? 0))(shown) ?? '';
  const band = $derived(
    area<number>()
      .x((k) => x(view.time_s[k] ?? 0))
      .y0((k) => y(view.low_c[k] ?? 0))
      .y1((k) => y(view.high_c[k] ?? 0))(shown) ?? '',
  );
  const words = $derived.by(() => {
    const [c, minutes] = [units.text(ahead.at_c, 'temperature'), `${Math.round(ahead.after_s / 30) / 2} min`];
    if (ahead.how === 'level') return `levels off near ${c} after ${minutes}`;
    if (ahead.how === 'empty' && view.fails_s !== null)
      return `solder or enamel gives out after ${Math.round(view.fails_s)} s, at ${c}`;
    return ahead.how === 'empty'
      ? `the pack is empty after ${minutes}, at ${c}`
      : `still rising after ${minutes}, at ${c}`;
  });
</script>

<Frame
  bind:width
  {height}
  {box}
  name="motor case against time"
  label="Motor case against time: forecast with band, readings, ceiling; it {words}"
  x={x.ticks(width > 500 ? 7 : 4).map((t) => ({ px: x(t), text: String(t) }))}
  y={unitTicks(y.domain(), 'temperature', 5).map((t) => ({ px: y(t.at), text: t.text }))}
  xLabel="seconds of full throttle"
  yLabel={units.unit('temperature').unit}
  columns={['time', 'case', 'lowest', 'highest']}
  readings={shown.map((k) => ({
    px: x(view.time_s[k] ?? 0),
    cells: [
      `${Math.round(view.time_s[k] ?? 0)} s`,
      units.text(curve[k], 'temperature'),
      units.text(view.low_c[k], 'temperature'),
      units.text(view.high_c[k], 'temperature'),
    ],
  }))}
  keys={[
    { sign: 'dashed', words: 'forecast' },
    { sign: 'band', words: '80 % band', tone: 'water' },
    ...(readings.length
      ? [
          { sign: 'line' as const, words: 'fit to your readings', tone: 'water' as const },
          { sign: 'circle' as const, words: 'case reading' },
        ]
      : []),
    { sign: 'short', words: 'over the ceiling' },
  ]}
>
  <rect
    x={box.left}
    y={box.top}
    width={width - box.left - box.right}
    height={Math.max(y(view.ceiling_c) - box.top, 0)}
    fill="url(#hatch-short)"
  />
  <line x1={box.left} x2={width - box.right} y1={y(view.ceiling_c)} y2={y(view.ceiling_c)} class="stroke-ink" />
  <text x={width - box.right - 4} y={y(view.ceiling_c) + 16} class="said" text-anchor="end"
    >ceiling {units.text(view.ceiling_c, 'temperature')}</text
  >
  <path d={band} class="band" />
  <path d={path(view.prior_c)} class="prior" />
  {#if readings.length}<path d={path(view.fitted_c)} class="fitted" />{/if}
  {#each readings as r, k (k)}
    {#if r.place === 'case'}<circle cx={x(r.seconds)} cy={y(toSi(r.typed))} r="5" class="fill-ink" />
    {:else}<path
        d="M{x(r.seconds) - 4} {y(toSi(r.typed)) - 4} l8 8 m0 -8 l-8 8"
        class="stroke-ink-2 stroke-[1.6]"
      />{/if}
  {/each}
  {#if running}<line x1={x(now)} x2={x(now)} y1={box.top} y2={height - box.bottom} class="stroke-ink-2" />{/if}
  <text
    x={Math.max(x(Math.min(ahead.after_s, end)) - 8, box.left + 6)}
    y={Math.max(y(ahead.at_c) - 8, box.top + 12)}
    class="said"
    text-anchor={x(Math.min(ahead.after_s, end)) < box.left + 0.5 * width ? 'start' : 'end'}>{words}</text
  >
</Frame>

<style>
  .band {
    fill: var(--water);
    opacity: 0.2;
  }
  .prior {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.6;
    stroke-dasharray: 8 5;
  }
  .fitted {
    fill: none;
    stroke: var(--water);
    stroke-width: 2.4;
  }
</style>
