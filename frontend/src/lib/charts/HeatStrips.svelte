<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { Heat } from '$lib/api/client';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  import Readout from './Readout.svelte';

  /** Temperatures through the duty: a strip a part, its ceiling hatched, the instant of crossing marked. */
  let { heat }: { heat: Heat } = $props();

  let width = $state(600);
  let tall = $state(200);
  const ROW = 58;
  const box = { left: 8, right: 10 };
  const end = $derived(heat.time_s.at(-1) ?? 1);
  const x = $derived(scaleLinear([0, end], [box.left, width - box.right]));

  const minutes = (s: number) => `${Math.round(s / 60)} min`;
  const causes = $derived(
    heat.causes
      .slice(0, 3)
      .map(([name, share]) => `${name.toLowerCase()} ${Math.round(share * 100)}%`)
      .join(', '),
  );

  type Row = { t: number; low: number; mid: number; high: number };
  const strips = $derived(
    heat.nodes.map((node, k) => {
      const limit = heat.limits[k]!;
      const bottom = Math.min(...node.low_c, limit.ceiling_c - 30) - 4;
      const top = Math.max(limit.stop_c + 6, Math.min(Math.max(...node.middle_c) * 1.08, limit.stop_c * 1.6));
      const y = scaleLinear([bottom, top], [ROW - 4, 3]).clamp(true);
      const rows: Row[] = heat.time_s.map((t, i) => ({
        t,
        low: node.low_c[i] ?? 0,
        mid: node.middle_c[i] ?? 0,
        high: node.high_c[i] ?? 0,
      }));
      const band = area<Row>()
        .x((r) => x(r.t))
        .y0((r) => y(r.low))
        .y1((r) => y(r.high))(rows);
      const curve = line<Row>()
        .x((r) => x(r.t))
        .y((r) => y(r.mid))(rows);
      return { node: node.node, limit, y, band, curve };
    }),
  );
  const readings = $derived(
    heat.time_s.map((t, i) => ({
      px: x(t),
      cells: [`${Math.round(t)} s`, ...heat.nodes.map((node) => units.text(node.middle_c[i], 'temperature'))],
    })),
  );
  const facts = $derived(
    [
      heat.passes_until_limit !== null ? `${heat.passes_until_limit} passes until a limit` : '',
      heat.cool_down_s !== null ? `${heat.cool_down_s} s of cooling are enough` : '',
      heat.seconds_to_empty !== null ? `${Math.round(heat.seconds_to_empty)} s of full throttle to 80% used` : '',
      `${heat.used_mah} mAh and ${heat.charge.used_wh} Wh for this duty, ${Math.round(heat.charge.left * 100)}% left`,
      `charging it back at ${heat.charge.charge_a} A takes ${minutes(heat.charge.total_s)}`,
      heat.burst_s !== null
        ? `the controller's burst rating is used up after ${Math.round(heat.burst_s)} s`
        : `${Math.round(heat.burst_use * 100)}% of the controller's burst rating is used`,
      ...heat.gun
        .slice(1, 3)
        .map(([m, c]) => `a gun reads ${units.text(c, 'temperature')} on the case ${m} min after landing`),
    ].filter(Boolean),
  );
</script>

<div class="min-w-0">
  <div class="relative" bind:clientWidth={width} bind:clientHeight={tall}>
    {#each strips as strip (strip.node)}
      <div class="strip">
        <div class="flex flex-wrap items-baseline gap-x-2.5 gap-y-0 text-[0.88rem] mt-1">
          <b>{strip.limit.title}</b>
          <span
            class="{strip.limit.verdict === 'holds'
              ? ''
              : strip.limit.verdict === 'stop'
                ? 'stop'
                : 'short'} font-[650] text-base">{units.text(strip.limit.peak_c, 'temperature')}</span
          >
          <span class="quiet"
            >of {units.text(strip.limit.ceiling_c, 'temperature')}, band {units.show(
              strip.limit.peak_low_c,
              'temperature',
            ).text} to {units.show(strip.limit.peak_high_c, 'temperature').text}</span
          >
          {#if strip.limit.verdict !== 'holds'}<Verdict verdict={strip.limit.verdict} />{/if}
          {#if strip.limit.crossing_s !== null}<span class="quiet">after {Math.round(strip.limit.crossing_s)} s</span
            >{/if}
        </div>
        <svg {width} height={ROW} role="img" aria-label={strip.limit.reason} class="block">
          {#each heat.phases as phase (phase.name)}
            {#if phase.full}<rect
                x={x(phase.start_s)}
                y="0"
                width={Math.max(x(phase.end_s) - x(phase.start_s), 1)}
                height={ROW}
                class="full"
              />{/if}
          {/each}
          <rect
            x={box.left}
            y={strip.y(strip.limit.stop_c)}
            width={width - box.left - box.right}
            height={Math.max(strip.y(strip.limit.ceiling_c) - strip.y(strip.limit.stop_c), 0)}
            fill="url(#hatch-short)"
          />
          <rect
            x={box.left}
            y="0"
            width={width - box.left - box.right}
            height={Math.max(strip.y(strip.limit.stop_c), 0)}
            fill="url(#hatch-stop)"
          />
          <line
            x1={box.left}
            x2={width - box.right}
            y1={strip.y(strip.limit.ceiling_c)}
            y2={strip.y(strip.limit.ceiling_c)}
            class="ceiling"
          />
          <path d={strip.band} class="band" />
          <path d={strip.curve} class="curve" />
          {#if strip.limit.crossing_s !== null}
            <circle cx={x(strip.limit.crossing_s)} cy={strip.y(strip.limit.ceiling_c)} r="4.5" class="cross" />
          {/if}
          <line x1={box.left} x2={width - box.right} y1={ROW - 0.5} y2={ROW - 0.5} class="base" />
        </svg>
      </div>
    {/each}
    <svg {width} height="20" aria-hidden="true" class="block">
      {#each x.ticks(8) as t (t)}<text x={x(t)} y="14" class="tick" text-anchor={t === 0 ? 'start' : 'middle'}
          >{t}{t === 0 ? ' s' : ''}</text
        >{/each}
    </svg>
    <Readout
      label="temperatures through the duty"
      columns={['time', ...strips.map((s) => s.limit.title.toLowerCase())]}
      {readings}
      height={tall}
    />
  </div>
  {#each heat.launch.warnings as warning (warning)}
    <p class="short my-1 max-w-[80ch] text-[0.92rem] font-semibold">{warning}</p>
  {/each}
  {#each heat.limits.filter((limit) => limit.fails_s !== null) as limit (limit.node)}
    <p class="stop my-1 max-w-[80ch] text-[0.92rem] font-semibold">{limit.reason}</p>
  {/each}
  <p class="my-1 max-w-[80ch] text-[0.92rem]">{heat.launch.sentence}</p>
  <p class="text-[0.92rem] my-1 max-w-[80ch]">{facts.join(' · ')}</p>
  {#if causes}<p class="quiet text-[0.92rem] my-1 max-w-[80ch]">
      Largest uncertainties of the case temperature: {causes}. A tub test teaches most of it.
    </p>{/if}
</div>

<style>
  .full {
    fill: var(--ink);
    opacity: 0.06;
  }
  .band {
    fill: var(--water);
    opacity: 0.22;
  }
  .curve {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
    stroke-dasharray: 7 4;
  }
  .ceiling {
    stroke: var(--ink);
    stroke-width: 1;
  }
  .base {
    stroke: var(--rule);
  }
  .cross {
    fill: var(--paper);
    stroke: var(--vermilion);
    stroke-width: 2.5;
  }
</style>
