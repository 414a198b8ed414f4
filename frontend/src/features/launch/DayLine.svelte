<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { Day } from '$lib/api/client';

  import { clock } from './launch.svelte';

  /** Chargers and boats on one time line; a run can be pulled to a later hour. Own drawing: no library draws this. */
  let {
    plan,
    starts,
    water,
    onlater,
  }: {
    plan: Day['plan'];
    /** Minutes after midnight at which charging begins and boats may run. */
    starts: number;
    water: number;
    /** A run by its place, not before a minute after midnight. */
    onlater: (at: number, minute: number) => void;
  } = $props();

  let width = $state(700);
  const LEFT = $derived(width < 560 ? 76 : 120);
  const ROW = 34;
  const chargers = $derived([...new Set(plan.charges.map((c) => c.charger))]);
  const boats = $derived([...new Set(plan.runs.map((r) => r.boat))]);
  const end = $derived(Math.max(plan.end_min, ...plan.charges.map((c) => c.end_min), water + 30));
  const x = $derived(scaleLinear([starts, end + 5], [LEFT, width - 10]));
  const height = $derived(26 + ROW * (chargers.length + boats.length) + 8);
  const top = (row: number): number => 26 + row * ROW;
  const ticks = $derived.by(() => {
    const step = end - starts > 480 ? 120 : end - starts > 200 || width < 560 ? 60 : 30;
    const first = Math.ceil(starts / step) * step;
    return Array.from({ length: Math.floor((end - first) / step) + 1 }, (_, k) => first + k * step);
  });

  let held = $state<{ at: number; from: number; start: number; by: number } | undefined>();
  function take(event: PointerEvent, at: number, start: number): void {
    held = { at, from: event.clientX, start, by: 0 };
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function pull(event: PointerEvent): void {
    if (held) held.by = x.invert(event.clientX - held.from + x(held.start)) - held.start;
  }
  function drop(): void {
    if (held && Math.abs(held.by) >= 2) onlater(held.at, Math.max(Math.round((held.start + held.by) / 5) * 5, 0));
    held = undefined;
  }
  function key(event: KeyboardEvent, at: number, start: number): void {
    const by = event.key === 'ArrowRight' ? 5 : event.key === 'ArrowLeft' ? -5 : 0;
    if (!by) return;
    event.preventDefault();
    onlater(at, Math.max(Math.round((start + by) / 5) * 5, 0));
  }
</script>

<div bind:clientWidth={width}>
  <svg
    {width}
    {height}
    role="group"
    aria-label="The day: {plan.charges.length} charges and {plan.runs.length} runs, until {clock(plan.end_min)}"
    class="block touch-pan-y overflow-visible"
    onpointermove={pull}
    onpointerup={drop}
    onpointercancel={() => (held = undefined)}
  >
    {#each ticks as tick (tick)}
      <line x1={x(tick)} x2={x(tick)} y1="18" y2={height} class="stroke-hair" />
      <text x={x(tick)} y="13" text-anchor="middle" class="fill-ink-2 text-[12px]">{clock(tick)}</text>
    {/each}
    <line x1={x(water)} x2={x(water)} y1="18" y2={height} class="stroke-water" stroke-dasharray="4 3" />
    {#each chargers as name, row (name)}
      <text x="0" y={top(row) + 21} class="fill-ink-2 text-[13px]"
        >{name.length > LEFT / 7.5 ? `${name.slice(0, Math.floor(LEFT / 7.5))}…` : name}</text
      >
      {#each plan.charges.filter((c) => c.charger === name) as charge (`${charge.pack}${charge.start_min}`)}
        {@const w = x(charge.end_min) - x(charge.start_min)}
        <rect
          x={x(charge.start_min)}
          y={top(row) + 5}
          width={Math.max(w - 1.5, 1)}
          height={ROW - 12}
          class="fill-sheet stroke-ink"
        >
          <title
            >{charge.pack}: {clock(charge.start_min)} to {clock(charge.end_min)} at {charge.current_a} A, from {Math.round(
              100 * charge.from_charge,
            )} %</title
          >
        </rect>
        {#if w > 60}
          <text x={x(charge.start_min) + 6} y={top(row) + 21} class="fill-ink text-[12px]"
            >{charge.pack.slice(0, Math.floor(w / 7))}</text
          >
        {/if}
      {/each}
    {/each}
    {#each boats as name, k (name)}
      {@const row = chargers.length + k}
      <text x="0" y={top(row) + 21} class="fill-ink text-[13px] font-semibold">{name}</text>
      {#each plan.runs as run, at (at)}
        {#if run.boat === name && run.start_min !== null && run.end_min !== null}
          {@const by = held?.at === at ? Math.max(held.by, 0) : 0}
          {@const w = Math.max(x(run.end_min) - x(run.start_min), 12)}
          <rect
            x={x(run.end_min)}
            y={top(row) + 13}
            width={Math.max(x(run.end_min + run.cool_min) - x(run.end_min), 0)}
            height="6"
            class="fill-ochre/30"
          />
          <rect
            x={x(run.start_min + by)}
            y={top(row) + 3}
            width={w}
            height={ROW - 8}
            class="cursor-ew-resize fill-water"
            role="slider"
            tabindex="0"
            aria-label="Run {at + 1}, {name}, starts"
            aria-valuenow={Math.round(run.start_min)}
            aria-valuemin={Math.round(starts)}
            aria-valuemax={1440}
            aria-valuetext={clock(run.start_min)}
            onpointerdown={(e) => take(e, at, run.start_min ?? 0)}
            onkeydown={(e) => key(e, at, run.start_min ?? 0)}
          />
          <text
            x={x(run.start_min + by) + w / 2}
            y={top(row) + 21}
            text-anchor="middle"
            class="pointer-events-none fill-paper text-[12px] font-semibold">{at + 1}</text
          >
        {/if}
      {/each}
    {/each}
  </svg>
</div>
