<script lang="ts">
  import { contours } from 'd3-contour';
  import { scaleLinear } from 'd3-scale';

  import type { SweepMap } from '$lib/api/client';
  import { VERDICTS } from '$lib/ui/verdicts';
  import { units } from '$lib/units/units.svelte';

  import Axes from './Axes.svelte';
  import Keys from './Keys.svelte';

  /** KV along, diameter up: lines of equal speed, hatched past a limit, and the drives that nobody beats. Tap a place to try it. */
  let {
    map,
    kv,
    diameterM,
    onpick,
  }: { map: SweepMap; kv: number; diameterM: number; onpick: (kv: number, diameterM: number) => void } = $props();

  let width = $state(600);
  const height = 330;
  const box = { left: 46, right: 10, top: 26, bottom: 40 };
  const columns = $derived(map.kv_rpm_per_v.length);
  const rows = $derived(map.diameter_m.length);
  const cell = $derived({ w: (width - box.left - box.right) / columns, h: (height - box.top - box.bottom) / rows });
  const place = (values: number[], from: number, to: number) =>
    scaleLinear([values[0] ?? 0, values.at(-1) ?? 1], [from, to]);
  const x = $derived(place(map.kv_rpm_per_v, box.left + cell.w / 2, width - box.right - cell.w / 2));
  const y = $derived(place(map.diameter_m, height - box.bottom - cell.h / 2, box.top + cell.h / 2));
  const fastest = $derived(Math.max(...map.speed_mps.flat().filter((v): v is number => v !== null)));
  const slowest = $derived(Math.min(...map.speed_mps.flat().filter((v): v is number => v !== null)));
  const factor = $derived(units.unit('speed').factor);
  /** Round speeds in the racer's unit, and the lines on which the boat does them. */
  const levels = $derived(scaleLinear([slowest * factor, fastest * factor], [0, 1]).ticks(7));
  const tone = $derived(scaleLinear<string>([slowest * factor, fastest * factor], ['#eaf0ee', '#2f7086']));
  const lines = $derived(
    contours()
      .size([columns, rows])
      .thresholds(levels.map((level) => level / factor))(map.speed_mps.flat().map((v) => v ?? NaN))
      .map((shape, k) => ({ level: levels[k] ?? 0, rings: shape.coordinates.map((polygon) => polygon[0] ?? []) })),
  );
  const px = (gx: number) => box.left + gx * cell.w;
  const py = (gy: number) => height - box.bottom - gy * cell.h;
  const drawn = (ring: number[][]) => `M${ring.map(([gx, gy]) => `${px(gx ?? 0)} ${py(gy ?? 0)}`).join('L')}Z`;
  /** Where a line's number stands: where it crosses the diagonal of the map. */
  const named = $derived(
    lines.flatMap(({ level, rings }) => {
      const inside = rings
        .flat()
        .filter(([gx = 0, gy = 0]) => gx > 0.8 && gy > 0.8 && gx < columns - 0.8 && gy < rows - 0.8);
      const best = inside.reduce<number[] | undefined>((found, here) => {
        const off = ([gx = 0, gy = 0]: number[]) => Math.abs(gx / columns - gy / rows);
        return !found || off(here) < off(found) ? here : found;
      }, undefined);
      return best ? [{ level, x: px(best[0] ?? 0), y: py(best[1] ?? 0) }] : [];
    }),
  );
  const FEW = 8;
  const thin = (all: [number, number][]) => {
    const sorted = [...all].sort((a, b) => (map.speed_mps[a[0]]?.[a[1]] ?? 0) - (map.speed_mps[b[0]]?.[b[1]] ?? 0));
    return sorted.length <= FEW
      ? sorted
      : Array.from({ length: FEW }, (_, k) => sorted[Math.round((k * (sorted.length - 1)) / (FEW - 1))]!);
  };
  const sane = ([r, c]: [number, number]) => (map.use[r]?.[c] ?? 9) < 1.6;
  const front = $derived(thin((map.front as [number, number][]).filter(sane)));
  const lasting = $derived(thin((map.lasting as [number, number][]).filter(sane)));

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

<figure class="m-0 min-w-0" bind:clientWidth={width}>
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
    class="block cursor-crosshair"
  >
    <clipPath id="runs-here">
      {#each { length: rows }, r (r)}
        {#each { length: columns }, c (c)}
          {#if map.verdict[r]?.[c] !== 'none'}<rect
              x={px(c) - 1}
              y={py(r + 1) - 1}
              width={cell.w + 2}
              height={cell.h + 2}
            />{/if}
        {/each}
      {/each}
    </clipPath>
    <g clip-path="url(#runs-here)">
      <rect x={box.left} y={box.top} width={cell.w * columns} height={cell.h * rows} fill={tone(slowest * factor)} />
      {#each lines as { level, rings } (level)}
        {#each rings as ring, k (k)}<path d={drawn(ring)} fill={tone(level)} class="line" />{/each}
      {/each}
    </g>
    {#each { length: rows }, r (r)}
      {#each { length: columns }, c (c)}
        {@const v = map.verdict[r]?.[c]}
        {#if v === 'short' || v === 'stop'}<rect
            x={px(c)}
            y={py(r + 1)}
            width={cell.w}
            height={cell.h}
            fill="url(#hatch-{v})"
          />{/if}
      {/each}
    {/each}
    {#each named as name (name.level)}
      <text x={name.x} y={name.y + 4} class="said" text-anchor="middle">{name.level}</text>
    {/each}
    {#each lasting as [r, c] (`l${r}-${c}`)}
      {@const cx = x(map.kv_rpm_per_v[c] ?? 0)}
      {@const cy = y(map.diameter_m[r] ?? 0)}
      <path d="M{cx} {cy - 6} l6 6 l-6 6 l-6 -6 Z" class="front" />
    {/each}
    {#each front as [r, c] (`${r}-${c}`)}
      <circle cx={x(map.kv_rpm_per_v[c] ?? 0)} cy={y(map.diameter_m[r] ?? 0)} r="4.2" class="front" />
    {/each}
    <g transform="translate({x(kv)} {y(diameterM)})" class="now"><circle r="7" /><path d="M-13 0 H13 M0 -13 V13" /></g>
    {#if at}<rect x={px(at.column)} y={py(at.row + 1)} width={cell.w} height={cell.h} class="at" />{/if}
    <Axes
      {width}
      {height}
      {box}
      grid={false}
      x={x.ticks(6).map((t) => ({ px: x(t), text: String(t) }))}
      y={y.ticks(6).map((t) => ({ px: y(t), text: units.show(t, 'length', units.system === 'metric' ? 0 : 2).text }))}
      xLabel="KV, rpm/V"
      yLabel="propeller, {units.unit('length').unit}; lines: {units.unit('speed').unit}"
    />
  </svg>
  <p aria-live="polite" class="my-1 min-h-[1.4em] text-[0.92rem]">{said}</p>
  <div>
    <Keys
      keys={[
        { sign: 'circle', words: 'fastest for its margin' },
        { sign: 'diamond', words: 'fastest for its run time' },
        { sign: 'short', words: 'short runs only' },
        { sign: 'stop', words: 'stop' },
      ]}
    />
  </div>
  <table class="visually-hidden">
    <caption>Drives that nobody beats for their margin</caption>
    <thead
      ><tr
        ><th scope="col">KV</th><th scope="col">Propeller</th><th scope="col">Speed</th><th scope="col"
          >Tightest limit</th
        ></tr
      ></thead
    >
    <tbody>
      {#each front as [r, c] (`t${r}-${c}`)}
        <tr>
          <td>{Math.round(map.kv_rpm_per_v[c] ?? 0)}</td><td>{units.text(map.diameter_m[r], 'length')}</td>
          <td>{units.text(map.speed_mps[r]?.[c], 'speed', 0)}</td>
          <td>{Math.round((map.use[r]?.[c] ?? 0) * 100)}% {map.reason[r]?.[c]}</td>
        </tr>
      {/each}
    </tbody>
  </table>
</figure>

<style>
  .line {
    stroke: var(--ink);
    stroke-width: 0.7;
    stroke-opacity: 0.55;
  }
  .front {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.4;
    pointer-events: none;
  }
  .now circle,
  .now path {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
  }
  .at {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
    pointer-events: none;
  }
</style>
