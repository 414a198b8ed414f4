<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { Forecast } from '$lib/api/client';
  import { units } from '$lib/units/units.svelte';

  import Frame from './Frame.svelte';

  /** Thrust against resistance, each with its band; where they cross is where the boat runs. */
  let { forecast, ghost }: { forecast: Forecast; ghost?: Forecast | undefined } = $props();

  let width = $state(560);
  const height = 300;
  const box = { left: 46, right: 14, top: 26, bottom: 44 };

  type Row = { v: number; low: number; mid: number | null; high: number };
  function rows(f: Forecast, name: 'thrust' | 'resistance'): Row[] {
    const c = f.curves;
    return c.speed_mps.map((v, k) => ({
      v,
      low: c[`${name}_low_n`][k] ?? 0,
      mid: c[`${name}_n`][k] ?? null,
      high: c[`${name}_high_n`][k] ?? 0,
    }));
  }

  const factor = $derived(units.unit('speed').factor);
  const end = $derived(Math.max(...forecast.curves.speed_mps, ...(ghost?.curves.speed_mps ?? [])));
  const speed = $derived(forecast.point.speed_mps.value ?? 0);
  const top = $derived(Math.max(...forecast.curves.thrust_high_n, (forecast.point.thrust_n.value ?? 1) * 1.6));
  const x = $derived(scaleLinear([0, end * factor], [box.left, width - box.right]));
  const y = $derived(scaleLinear([0, top * 1.05], [height - box.bottom, box.top]));

  const band = $derived(
    area<Row>()
      .x((r) => x(r.v * factor))
      .y0((r) => y(r.low))
      .y1((r) => y(r.high)),
  );
  const curve = $derived(
    line<Row>()
      .defined((r) => r.mid !== null)
      .x((r) => x(r.v * factor))
      .y((r) => y(r.mid ?? 0)),
  );
  const thrust = $derived(rows(forecast, 'thrust'));
  const resistance = $derived(rows(forecast, 'resistance'));
  const low = $derived(forecast.point.speed_mps.low);
  const high = $derived(forecast.point.speed_mps.high);
  const crossing = $derived({ x: x(speed * factor), y: y(forecast.point.thrust_n.value ?? 0) });
  /** Labels sit on their curves, well away from the crossing. */
  const named = $derived(thrust[Math.floor(thrust.length * 0.2)]);
  const namedR = $derived(resistance[Math.floor(resistance.length * 0.42)]);
  const newtons = (value: number | null): string => (value === null ? '' : `${Math.round(value)} N`);
  const readings = $derived(
    thrust.map((row, k) => ({
      px: x(row.v * factor),
      cells: [units.text(row.v, 'speed', 0), newtons(row.mid), newtons(resistance[k]?.mid ?? null)],
    })),
  );
</script>

<Frame
  bind:width
  {height}
  {box}
  name="thrust and resistance against speed"
  label="Thrust meets resistance at {units.text(speed, 'speed')}, band {units.text(low, 'speed')} to {units.text(
    high,
    'speed',
  )}"
  x={x.ticks(width > 420 ? 8 : 5).map((t) => ({ px: x(t), text: String(t) }))}
  y={y.ticks(5).map((t) => ({ px: y(t), text: String(t) }))}
  xLabel="speed, {units.unit('speed').unit}"
  yLabel="N"
  columns={['speed', 'thrust', 'resistance']}
  {readings}
  keys={[
    { sign: 'dashed', words: 'thrust, forecast' },
    { sign: 'dashed', words: 'resistance, forecast', tone: 'water' },
    { sign: 'band', words: '80 % band of each', tone: 'water' },
    ...(ghost ? [{ sign: 'ghost' as const, words: 'saved setup' }] : []),
  ]}
>
  <path d={band(thrust)} class="band thrust" />
  <path d={band(resistance)} class="band resistance" />
  {#if ghost}
    <path d={curve(rows(ghost, 'thrust'))} class="ghost" />
    <path d={curve(rows(ghost, 'resistance'))} class="ghost" />
  {/if}
  <path d={curve(thrust)} class="curve thrust" />
  <path d={curve(resistance)} class="curve resistance" />
  {#if named}<text x={x(named.v * factor)} y={y(named.high) - 7} class="name">thrust</text>{/if}
  {#if namedR}<text x={x(namedR.v * factor)} y={y(namedR.high) - 8} class="name water" text-anchor="end"
      >resistance</text
    >{/if}
  {#if speed > 0}
    {#if low !== null && high !== null}
      <rect
        x={x(low * factor)}
        y={height - box.bottom - 5}
        width={Math.max(x(high * factor) - x(low * factor), 1)}
        height="10"
        class="span"
      />
    {/if}
    <line x1={crossing.x} x2={crossing.x} y1={crossing.y} y2={height - box.bottom + 5} class="drop" />
    <circle cx={crossing.x} cy={crossing.y} r="5" class="point" data-testid="crossing" />
    <text
      x={crossing.x}
      y={Math.max(crossing.y - 16, 24)}
      class="said text-[19px]"
      text-anchor={crossing.x > width - 90 ? 'end' : 'middle'}
    >
      {units.text(speed, 'speed', 0)}
    </text>
  {/if}
</Frame>

<style>
  .band.thrust {
    fill: var(--ink);
    opacity: 0.1;
  }
  .band.resistance {
    fill: var(--water);
    opacity: 0.17;
  }
  .curve {
    fill: none;
    stroke-width: 2;
    stroke-dasharray: 7 4;
  }
  .curve.thrust {
    stroke: var(--ink);
  }
  .curve.resistance {
    stroke: var(--water);
  }
  .ghost {
    fill: none;
    stroke: var(--ghost);
    stroke-width: 1;
    stroke-dasharray: 2 3;
  }
  .name {
    font-size: 14px;
    font-weight: 600;
    fill: var(--ink);
  }
  .name.water {
    fill: var(--water);
  }
  .span {
    fill: var(--water);
    opacity: 0.45;
  }
  .drop {
    stroke: var(--ink);
    stroke-dasharray: 3 3;
  }
  .point {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 2.2;
  }
</style>
