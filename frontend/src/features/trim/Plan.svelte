<script lang="ts">
  import type { Forecast, SetupDocument, TrimSizes } from '$lib/api/client';

  import { plan, si, type Point } from './trim';

  /** This boat from above, to scale: rudder, drive, fin, pack and centre of mass; what can be pulled is pulled on it.
      Own drawing: no library draws boats. */
  let {
    document,
    saved,
    sizes,
    forecast,
    onpull,
  }: {
    document: SetupDocument;
    saved: SetupDocument;
    sizes: TrimSizes;
    forecast: Forecast;
    /** A knob by its path, in the core's unit. */
    onpull: (path: string, value: number) => void;
  } = $props();

  let width = $state(700);
  const L = $derived(sizes.length_m);
  const now = $derived(plan(document, sizes));
  const before = $derived(plan(saved, sizes));
  const scale = $derived(Math.min((width - 16) / (1.22 * L), width < 560 ? 9999 : (width * 0.68) / (1.22 * L)));
  const left = $derived((now.behind + 0.02 * L) * scale);
  const middle = $derived(0.5 * sizes.beam_m * scale + 26);
  const height = $derived(2 * middle);
  const to = ([x, y]: Point): Point => [left + x * scale, middle + y * scale];
  const drawn = (points: Point[]): string =>
    points
      .map(
        (p, k) =>
          `${k ? 'L' : 'M'}${to(p)
            .map((v) => v.toFixed(1))
            .join(' ')}`,
      )
      .join('') + 'Z';
  const moved = $derived(JSON.stringify([now.rudder, now.pack]) !== JSON.stringify([before.rudder, before.pack]));
  const pull = $derived(forecast.point.side_force_n.value ?? 0);
  const weight = $derived(sizes.mass_kg * 9.80665);
  const stern = $derived(to(now.propeller));
  const long = $derived(Math.max((0.14 * L * scale * pull) / weight, pull > 0 ? 10 : 0));

  const GRIPS = {
    rudder: { along: 'hull.rudder_setback', across: 'hull.rudder_offset' },
    drive: { along: '', across: 'hull.drive_offset' },
    pack: { along: 'placement.pack', across: '' },
  };
  type Grip = keyof typeof GRIPS;
  const known = (path: string): number | undefined => (path ? si(document, path) : undefined);
  const loose = (grip: Grip): boolean =>
    known(GRIPS[grip].along) !== undefined || known(GRIPS[grip].across) !== undefined;
  let held = $state<Grip | undefined>();
  let start = { x: 0, y: 0, along: 0, across: 0 };
  function take(event: PointerEvent, grip: Grip): void {
    if (!loose(grip)) return;
    held = grip;
    const { along, across } = GRIPS[grip];
    start = { x: event.clientX, y: event.clientY, along: known(along) ?? 0, across: known(across) ?? 0 };
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function move(event: PointerEvent): void {
    if (!held) return;
    const { along, across } = GRIPS[held];
    const [dx, dy] = [(event.clientX - start.x) / scale, (event.clientY - start.y) / scale];
    const half = (v: number): number => Math.round(v * 2000) / 2000;
    if (known(along) !== undefined) onpull(along, Math.max(half(start.along + (held === 'rudder' ? -dx : dx)), 0));
    if (known(across) !== undefined) onpull(across, half(start.across + dy));
  }
</script>

<div bind:clientWidth={width}>
  <svg
    {width}
    {height}
    role="img"
    aria-label="The boat from above, bow to the right; the propeller's blades push the stern sideways with {pull.toFixed(
      0,
    )} newtons"
    class="block touch-pan-y overflow-visible"
    onpointermove={move}
    onpointerup={() => (held = undefined)}
    onpointercancel={() => (held = undefined)}
  >
    {#each now.hull as part, k (k)}<path d={drawn(part)} class="fill-sheet stroke-ink" stroke-width="1.8" />{/each}
    <line
      x1={to([0, 0])[0]}
      x2={to([L, 0])[0]}
      y1={middle}
      y2={middle}
      class="stroke-ghost"
      stroke-dasharray="7 3 1.5 3"
    />
    {#each now.tabs as tab, k (k)}<path d={drawn(tab)} class="fill-ink" />{/each}
    {#each now.fins as fin, k (k)}<path d={drawn(fin)} class="fill-ink" />{/each}
    <line
      x1={to([0.28 * L, now.propeller[1]])[0]}
      y1={stern[1]}
      x2={stern[0]}
      y2={stern[1]}
      class="stroke-ink"
      stroke-width="2"
    />
    <rect
      x={stern[0] - 4}
      y={stern[1] - now.radius * scale}
      width="8"
      height={2 * now.radius * scale}
      class={['fill-ink', loose('drive') && 'cursor-ns-resize']}
      role="presentation"
      onpointerdown={(e) => take(e, 'drive')}
    />
    {#if moved}
      <path d={drawn(before.rudder)} class="fill-none stroke-ghost" stroke-dasharray="4 3" />
      {#if before.pack}<path d={drawn(before.pack)} class="fill-none stroke-ghost" stroke-dasharray="4 3" />{/if}
    {/if}
    <path
      d={drawn(now.rudder)}
      class={['fill-ink', loose('rudder') && 'cursor-move']}
      role="presentation"
      onpointerdown={(e) => take(e, 'rudder')}
    />
    {#if now.pack}
      <path
        d={drawn(now.pack)}
        class="cursor-ew-resize fill-paper stroke-ink"
        stroke-width="1.4"
        role="presentation"
        onpointerdown={(e) => take(e, 'pack')}
      />
    {/if}
    {#if long}
      {@const [x, y] = [(stern[0] + to([0, 0])[0]) / 2, stern[1] + 4]}
      <line x1={x} x2={x} y1={y} y2={y + long} class="stroke-water" stroke-width="2" />
      <path d="M{x} {y + long} l-3.5 -8 h7 Z" class="fill-water" />
      <text x={x - 6} y={height - 8} class="fill-ink-2 text-[12.5px]"
        >the blades push it aside with {pull.toFixed(0)} N</text
      >
    {/if}
    <circle cx={to([sizes.centre_m, 0])[0]} cy={middle} r="6" class="fill-paper stroke-ink" stroke-width="1.4" />
    <path d="M{to([sizes.centre_m, 0])[0]} {middle} h6 a6 6 0 0 1 -6 6 Z m0 0 h-6 a6 6 0 0 1 6 -6 Z" class="fill-ink" />
    <text x={to([L, 0])[0] - 4} y={height - 8} class="fill-ink-2 text-[12.5px]" text-anchor="end">from above</text>
  </svg>
</div>
