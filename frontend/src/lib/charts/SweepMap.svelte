<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { SweepMap } from '$lib/api/client';
  import { VERDICTS } from '$lib/ui/verdicts';
  import { units } from '$lib/units/units.svelte';

  /** KV along, diameter up: darker is faster, hatches are limits, the dots are what nobody beats. Tap a place to try it. */
  let {
    map,
    kv,
    diameterM,
    onpick,
  }: { map: SweepMap; kv: number; diameterM: number; onpick: (kv: number, diameterM: number) => void } = $props();

  let width = $state(600);
  const height = 330;
  const box = { left: 46, right: 8, top: 8, bottom: 38 };
  const columns = $derived(map.kv_rpm_per_v.length);
  const rows = $derived(map.diameter_m.length);
  const cell = $derived({ w: (width - box.left - box.right) / columns, h: (height - box.top - box.bottom) / rows });
  const place = (values: number[], from: number, to: number) =>
    scaleLinear([values[0] ?? 0, values.at(-1) ?? 1], [from, to]);
  const x = $derived(place(map.kv_rpm_per_v, box.left + cell.w / 2, width - box.right - cell.w / 2));
  const y = $derived(place(map.diameter_m, height - box.bottom - cell.h / 2, box.top + cell.h / 2));
  const fastest = $derived(Math.max(...map.speed_mps.flat().filter((v): v is number => v !== null)));
  const INKS = ['#dfe9e8', '#c9dfe1', '#a9cad0', '#86b0bb', '#6096a6', '#3f7d92', '#2a6980', '#184a60'];
  const shade = (v: number | null | undefined) =>
    INKS[Math.min(Math.floor(((v ?? 0) / fastest) ** 1.6 * INKS.length), INKS.length - 1)];
  const front = $derived(
    [...map.front]
      .sort((a, b) => (map.speed_mps[a[0]]?.[a[1]] ?? 0) - (map.speed_mps[b[0]]?.[b[1]] ?? 0))
      .filter(([r, c]) => (map.use[r]?.[c] ?? 9) < 1.6),
  );

  let at = $state<{ row: number; column: number } | undefined>();
  const said = $derived.by(() => {
    if (!at) return 'Point at the map to see speed and limits there.';
    const { row, column } = at;
    const verdict = map.verdict[row]?.[column];
    const head = `${Math.round(map.kv_rpm_per_v[column] ?? 0)} KV, ${units.text(map.diameter_m[row], 'length')}`;
    if (verdict === undefined || verdict === 'none') return `${head}: does not run`;
    const runs = map.run_s[row]?.[column];
    return `${head}: ${units.text(map.speed_mps[row]?.[column], 'speed', 0)}, ${runs ? `${Math.round(runs)} s of full throttle, ` : ''} ${units.text(map.current_a[row]?.[column], 'current')}; ${VERDICTS[verdict]}, ${Math.round((map.use[row]?.[column] ?? 0) * 100)}% of ${map.reason[row]?.[column]?.toLowerCase()}`;
  });

  function locate(event: PointerEvent | MouseEvent): { row: number; column: number } | undefined {
    const bounds = (event.currentTarget as SVGElement).getBoundingClientRect();
    const column = Math.floor((event.clientX - bounds.left - box.left) / cell.w);
    const row = rows - 1 - Math.floor((event.clientY - bounds.top - box.top) / cell.h);
    return row >= 0 && row < rows && column >= 0 && column < columns ? { row, column } : undefined;
  }
  function pick(place: { row: number; column: number } | undefined): void {
    if (place) onpick(map.kv_rpm_per_v[place.column] ?? kv, map.diameter_m[place.row] ?? diameterM);
  }
  function onkeydown(event: KeyboardEvent): void {
    const moves: Record<string, [number, number]> = {
      ArrowUp: [1, 0],
      ArrowDown: [-1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    };
    const move = moves[event.key];
    if (move) {
      const start = at ?? { row: Math.floor(rows / 2), column: Math.floor(columns / 2) };
      at = {
        row: Math.min(Math.max(start.row + move[0], 0), rows - 1),
        column: Math.min(Math.max(start.column + move[1], 0), columns - 1),
      };
      event.preventDefault();
    } else if (event.key === ' ') {
      pick(at);
      event.preventDefault();
    }
  }
</script>

<div class="map" bind:clientWidth={width}>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
  <svg
    {width}
    {height}
    tabindex="0"
    role="application"
    aria-label="Map of KV and propeller diameter; arrows move, space tries the place"
    onpointermove={(e) => (at = locate(e))}
    onclick={(e) => pick(locate(e))}
    {onkeydown}
  >
    {#each { length: rows }, r (r)}
      {#each { length: columns }, c (c)}
        {@const v = map.verdict[r]?.[c]}
        {@const px = box.left + c * cell.w}
        {@const py = height - box.bottom - (r + 1) * cell.h}
        {#if v !== 'none'}<rect
            x={px}
            y={py}
            width={cell.w + 0.4}
            height={cell.h + 0.4}
            fill={shade(map.speed_mps[r]?.[c])}
          />{/if}
        {#if v === 'short'}<rect x={px} y={py} width={cell.w} height={cell.h} fill="url(#hatch-short)" />{/if}
        {#if v === 'stop'}<rect x={px} y={py} width={cell.w} height={cell.h} fill="url(#hatch-stop)" />{/if}
      {/each}
    {/each}
    {#each map.lasting as [r, c] (`l${r}-${c}`)}
      {@const cx = x(map.kv_rpm_per_v[c] ?? 0)}
      {@const cy = y(map.diameter_m[r] ?? 0)}
      <path d="M{cx} {cy - 5} l5 5 l-5 5 l-5 -5 Z" class="lasting" />
    {/each}
    {#each front as [r, c] (`${r}-${c}`)}
      <circle cx={x(map.kv_rpm_per_v[c] ?? 0)} cy={y(map.diameter_m[r] ?? 0)} r="2.6" class="front" />
    {/each}
    <g transform="translate({x(kv)} {y(diameterM)})" class="now"><circle r="6" /><path d="M-12 0 H12 M0 -12 V12" /></g>
    {#if at}<rect
        x={box.left + at.column * cell.w}
        y={height - box.bottom - (at.row + 1) * cell.h}
        width={cell.w}
        height={cell.h}
        class="at"
      />{/if}
    {#each x.ticks(6) as t (t)}<text x={x(t)} y={height - box.bottom + 16} class="tick" text-anchor="middle">{t}</text
      >{/each}
    <text x={width - box.right} y={height - 4} class="tick" text-anchor="end">KV, rpm/V</text>
    {#each y.ticks(6) as t (t)}<text x={box.left - 6} y={y(t) + 4} class="tick" text-anchor="end"
        >{units.show(t, 'length', units.system === 'metric' ? 0 : 2).text}</text
      >{/each}
  </svg>
  <p aria-live="polite">{said}</p>
  <p class="key">
    ○ fastest at this margin · ◇ fastest at this run time · darker is faster · hatched: short runs only · cross-hatched:
    stop
  </p>
</div>

<style>
  .map {
    min-width: 0;
  }
  svg {
    display: block;
    cursor: crosshair;
  }
  .front {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.2;
    pointer-events: none;
  }
  .lasting {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.3;
    pointer-events: none;
  }
  .now circle,
  .now path {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .at {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
    pointer-events: none;
  }
  .key {
    font-size: 0.82rem;
    color: var(--ink-2);
  }
  p {
    font-size: 0.92rem;
    min-height: 1.4em;
    margin: 0.2rem 0;
  }
</style>
