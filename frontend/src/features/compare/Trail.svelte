<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { ChangeEffect, Difference, TrailView } from '$lib/api/client';
  import { pathTo } from '$lib/state/go';
  import Changes from '$lib/ui/Changes.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  import { lanes, reach } from './trail';

  /** The trail: a branching line of setups at the left, their speeds on one scale at the right. */
  let {
    trail,
    current,
    changes = [],
  }: { trail: TrailView; current?: number | undefined; changes?: ChangeEffect[] } = $props();

  const brought = $derived(new Map(changes.map((c) => [c.after_id, c])));
  const signed = (part: number | null | undefined) =>
    part === null || part === undefined ? '' : `${part < 0 ? '−' : '+'}${Math.abs(100 * part).toFixed(1)}`;

  let width = $state(500);
  const ROW = 96;
  /** Heights of the rows as they came out: words take the room they need. */
  let heights = $state<number[]>([]);
  const tops = $derived(trail.setups.map((_, k) => heights.slice(0, k).reduce((sum, h) => sum + (h || ROW), 0)));
  const foot = $derived(trail.setups.reduce((sum, _, k) => sum + (heights[k] || ROW), 0));
  const middle = (row: number) => (tops[row] ?? row * ROW) + 24;
  const nodes = $derived(lanes(trail));
  const laneCount = $derived(Math.max(...nodes.map((n) => n.lane)) + 1);
  const gutter = $derived(26 + laneCount * 20);
  const factor = $derived(units.unit('speed').factor);
  const ends = $derived(reach(trail));
  const x = $derived(scaleLinear([ends[0] * factor, ends[1] * factor], [16, width - 16]));
  const ticks = $derived(x.ticks(width > 380 ? 7 : 4));
  const lane = (k: number) => 14 + k * 20;
  const HEAD = 26;
</script>

<div class="relative max-md:[--gutter:0px]!" style:--gutter="{gutter}px">
  <div class="relative ml-[calc(var(--gutter)+17rem)] max-md:ml-[var(--gutter)]" bind:clientWidth={width}>
    <svg {width} height={HEAD} aria-hidden="true">
      {#each ticks as t (t)}<text x={x(t)} y="14" class="tick" text-anchor="middle">{t}</text>{/each}
    </svg>
    <span class="unit absolute -top-3.5 right-0">{units.unit('speed').unit}</span>
  </div>
  <svg class="absolute left-0 max-md:hidden" width={gutter} height={foot} style:top="{HEAD}px" aria-hidden="true">
    {#each nodes as node (node.id)}
      {#if node.parentRow !== undefined && node.parentLane !== undefined}
        {@const y0 = middle(node.parentRow)}
        {@const y1 = middle(node.row)}
        <path
          d="M{lane(node.parentLane)} {y0} C{lane(node.parentLane)} {y0 + 30} {lane(node.lane)} {y0 + 20} {lane(
            node.lane,
          )} {Math.min(y0 + 56, y1)} V{y1}"
          class="edge"
        />
      {/if}
    {/each}
    {#each nodes as node (node.id)}
      {@const setup = trail.setups[node.row]}
      <circle
        cx={lane(node.lane)}
        cy={middle(node.row)}
        r="7"
        class="node"
        class:ran={setup?.runs.length}
        class:current={node.id === current}
      />
    {/each}
  </svg>
  <ol class="list-none m-0 p-0">
    {#each trail.setups as setup, k (setup.setup_id)}
      <li
        style:min-height="{ROW}px"
        bind:offsetHeight={heights[k]}
        class="grid grid-cols-[17rem_minmax(0,1fr)] pl-[var(--gutter)] border-t border-t-hair max-md:grid-cols-[minmax(0,1fr)]"
      >
        <div class="pr-3 pl-0 pt-2.5 pb-1 text-[0.92rem]">
          <a class="font-[650] text-base text-ink mr-2" href={pathTo('match', setup.setup_id)}>{k + 1} · {setup.name}</a
          >
          <Verdict verdict={setup.verdict} />
          <div class="mt-0.5 text-[0.88rem]">
            {#if setup.changes.length}<Changes changes={setup.changes as Difference[]} />{:else}<span class="quiet"
                >First setup</span
              >{/if}
            {#if brought.get(setup.setup_id)}
              {@const c = brought.get(setup.setup_id)}
              <p class="mt-0.5 mb-0" data-testid="brought">
                <span class="quiet">forecast</span>
                {signed(c?.forecast)} %{#if c?.measured}<span class="quiet">, measured</span>
                  {signed(c.measured.value)} %
                  <span class="quiet">({signed(c.measured.low)} to {signed(c.measured.high)})</span>{/if}:
                <b>{c?.words}</b>{#if c?.believed}<span class="quiet"
                    >; with the forecast {signed(c.believed.value)} % ({signed(c.believed.low)} to
                    {signed(c.believed.high)})</span
                  >{/if}{#if c?.ruling === 'not_shown'}<span class="quiet"
                    >; {c.passes} passes each would show what is forecast, run {[...c.order].join(' ')}</span
                  >{/if}
                {#if c?.shares.length}
                  <span class="quiet"
                    >· by the model {c.shares
                      .map((s) => `${s.label} ${signed(s.value)} ± ${(100 * s.spread).toFixed(1)} %`)
                      .join(', ')}</span
                  >
                {/if}
              </p>
            {/if}
          </div>
        </div>
        <svg
          {width}
          height={ROW}
          class="speeds"
          role="img"
          aria-label="{setup.name}: forecast {units.text(setup.forecast_mps, 'speed')}, measured {setup.runs
            .map((r) => units.text(r.measured[0]?.measured, 'speed'))
            .join(', ') || 'nothing'}"
        >
          {#each ticks as t (t)}<line x1={x(t)} x2={x(t)} y1="0" y2={ROW} class="hair" />{/each}
          {#if setup.forecast_mps && setup.low_mps && setup.high_mps}
            <rect
              x={x(setup.low_mps * factor)}
              y="16"
              width={x(setup.high_mps * factor) - x(setup.low_mps * factor)}
              height="26"
              class="band"
            />
            <line
              x1={x(setup.forecast_mps * factor)}
              x2={x(setup.forecast_mps * factor)}
              y1="10"
              y2="48"
              class="forecast"
            />
            <text x={x(setup.forecast_mps * factor)} y="63" class="small" text-anchor="middle"
              >{units.show(setup.forecast_mps, 'speed', 0).text}</text
            >
          {/if}
          {#each setup.runs as run (run.run_id)}
            {@const speed = run.measured.find((m) => m.dimension === 'speed')?.measured}
            {#if speed}
              <line x1={x(speed * factor)} x2={x(speed * factor)} y1="13" y2="45" class="measured" />
              <circle cx={x(speed * factor)} cy="29" r="5.5" class="dot" />
            {/if}
          {/each}
        </svg>
      </li>
    {/each}
  </ol>
</div>

<style>
  .tick,
  .small {
    font-size: 12.5px;
    fill: var(--ink-2);
  }
  .hair {
    stroke: var(--hair);
  }
  .edge {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
  }
  .node {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 2;
  }
  .node.ran {
    fill: var(--ink);
  }
  .node.current {
    stroke: var(--water);
    stroke-width: 4;
  }
  .band {
    fill: var(--water);
    opacity: 0.2;
  }
  .forecast {
    stroke: var(--water);
    stroke-width: 2;
    stroke-dasharray: 5 3;
  }
  .measured {
    stroke: var(--ink);
    stroke-width: 2;
  }
  .dot {
    fill: var(--ink);
  }
</style>
