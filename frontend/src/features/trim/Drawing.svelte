<script lang="ts">
  import type { Forecast, SetupDocument, TrimSizes } from '$lib/api/client';

  import { si, side, stern, type Point } from './trim';

  /** This boat from the side and from behind, to scale, on the water at speed; its knobs can be pulled on it. Own
      drawing: no library draws boats. */
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
  const now = $derived(side(document, sizes));
  const before = $derived(side(saved, sizes));
  const behind = $derived(stern(document, sizes));
  const narrow = $derived(width < 560);
  const L = $derived(sizes.length_m);
  const scale = $derived(narrow ? (width - 16) / (1.2 * L) : (width * 0.68) / (1.22 * L));
  const water = $derived(0.27 * L * scale + 8);
  const left = $derived(0.17 * L * scale);
  const sternScale = $derived(Math.min(scale, (narrow ? width * 0.6 : width * 0.24) / (sizes.beam_m * 1.2)));
  const sternX = $derived(narrow ? width / 2 : width * 0.86);
  const sternY = $derived(narrow ? water + 0.2 * L * scale + 0.16 * L * sternScale : water);
  const height = $derived((narrow ? sternY : water) + 0.15 * L * scale + 16);

  const flat = ([x, y]: Point): Point => [left + x * scale, water - y * scale];
  const turned = ([x, y]: Point): Point => [sternX + x * sternScale, sternY - y * sternScale];
  const drawn = (points: Point[], how: (p: Point) => Point): string =>
    points
      .map(
        (p, k) =>
          `${k ? 'L' : 'M'}${how(p)
            .map((v) => v.toFixed(1))
            .join(' ')}`,
      )
      .join('') + 'Z';

  const weight = $derived(sizes.mass_kg * 9.80665);
  const newton = $derived((0.14 * L * scale) / weight);
  const heavy = $derived(weight * newton);
  const thrust = $derived(forecast.point.thrust_n.value ?? 0);
  const propeller = $derived(flat(now.propeller));
  const centre = $derived(flat(now.centre));
  const pressed = $derived(flat(now.pressed));
  const waves = $derived.by(() => {
    const end = (narrow ? width : width * 0.7) - 14;
    let d = `M0 ${water}`;
    for (let x = 0; x < end; x += 14) d += ` q 3.5 ${x % 28 ? -2 : 2} 7 0 t 7 0`;
    return d;
  });

  type Grip = 'pack' | 'depth' | 'rudder';
  let held = $state<Grip | undefined>();
  let start = { x: 0, y: 0, value: 0 };
  const PATHS: Record<Grip, string> = {
    pack: 'placement.pack',
    depth: 'hull.shaft_depth',
    rudder: 'hull.rudder_offset',
  };
  const valueOf = (grip: Grip): number | undefined => si(document, PATHS[grip]);
  function take(event: PointerEvent, grip: Grip): void {
    const value = valueOf(grip);
    if (value === undefined) return;
    held = grip;
    start = { x: event.clientX, y: event.clientY, value };
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function pull(event: PointerEvent): void {
    if (!held) return;
    const [dx, dy] = [event.clientX - start.x, event.clientY - start.y];
    const by = held === 'pack' ? dx / scale : held === 'depth' ? dy / scale : dx / sternScale;
    onpull(PATHS[held], Math.round((start.value + by) * 2000) / 2000);
  }
  const moved = $derived(JSON.stringify([now.pack, now.propeller]) !== JSON.stringify([before.pack, before.propeller]));
</script>

{#snippet arrow(from: Point, to: Point, words: string, at: Point, tone: string, ends = false)}
  {@const long = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1}
  {@const [ux, uy] = [(to[0] - from[0]) / long, (to[1] - from[1]) / long]}
  <g class={tone}>
    <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} class="force" />
    <path d="M{to[0]} {to[1]} l{-8 * ux - 3.5 * uy} {-8 * uy + 3.5 * ux} l{7 * uy} {-7 * ux} Z" class="head" />
    <text x={at[0]} y={at[1]} class={['words', ends && 'end']}>{words}</text>
  </g>
{/snippet}

<div bind:clientWidth={width}>
  <svg
    {width}
    {height}
    role="img"
    aria-label="The boat from the side and from behind: bow {sizes.trim_deg.toFixed(1)}° up, {thrust.toFixed(
      0,
    )} newtons of thrust"
    class="block touch-pan-y overflow-visible"
    onpointermove={pull}
    onpointerup={() => (held = undefined)}
    onpointercancel={() => (held = undefined)}
  >
    <rect x="0" y={water} width={narrow ? width : width * 0.7} height={0.13 * L * scale} class="water" />
    <rect
      x={sternX - sizes.beam_m * 0.62 * sternScale}
      y={sternY}
      width={sizes.beam_m * 1.24 * sternScale}
      height={0.11 * L * sternScale}
      class="water"
    />
    <path d={waves} class="surface" />
    <line
      x1={sternX - sizes.beam_m * 0.62 * sternScale}
      x2={sternX + sizes.beam_m * 0.62 * sternScale}
      y1={sternY}
      y2={sternY}
      class="surface"
    />

    <path d={drawn(now.hull, flat)} class="hull" />
    <path d={drawn(now.rudder, flat)} class="metal" />
    <line
      x1={flat([0.02 * L, 0.02 * L])[0]}
      y1={flat([0.02 * L, 0.02 * L])[1]}
      x2={propeller[0]}
      y2={propeller[1]}
      class="shaft"
    />
    {#if moved}
      {#if before.pack}<path d={drawn(before.pack, flat)} class="ghost" />{/if}
      <ellipse
        cx={flat(before.propeller)[0]}
        cy={flat(before.propeller)[1]}
        rx="4"
        ry={before.radius * scale}
        class="ghost"
      />
    {/if}
    <ellipse
      cx={propeller[0]}
      cy={propeller[1]}
      rx="4.5"
      ry={now.radius * scale}
      class={['metal', valueOf('depth') !== undefined && 'grip up']}
      role="presentation"
      onpointerdown={(e) => take(e, 'depth')}
    />
    {#if now.pack}
      <path
        d={drawn(now.pack, flat)}
        class="pack grip along"
        role="presentation"
        onpointerdown={(e) => take(e, 'pack')}
      />
      <text x={flat(now.pack[2]!)[0] + 5} y={flat(now.pack[2]!)[1] + 9} class="words">pack</text>
    {/if}
    {@render arrow(
      centre,
      [centre[0], centre[1] + heavy],
      `weight ${weight.toFixed(0)} N`,
      [centre[0] + 7, centre[1] + heavy + 3],
      'ink',
    )}
    {@render arrow(
      [pressed[0], pressed[1] + 0.11 * L * scale],
      [pressed[0], pressed[1] + 2],
      'lift of the water',
      [pressed[0] - 7, pressed[1] + 0.11 * L * scale + (narrow ? 10 : 0)],
      'wet',
      true,
    )}
    {@render arrow(
      propeller,
      [propeller[0] + Math.max(thrust * newton, 12), propeller[1]],
      `thrust ${thrust.toFixed(0)} N`,
      [propeller[0] + 8, propeller[1] + 17],
      'ink',
    )}
    <circle cx={centre[0]} cy={centre[1]} r="6" class="centre" />
    <path
      d="M{centre[0]} {centre[1]} h6 a6 6 0 0 1 -6 6 Z M{centre[0]} {centre[1]} h-6 a6 6 0 0 1 6 -6 Z"
      class="half"
    />
    <text x={flat([1.0 * L, 0])[0] - 4} y={water - 6} class="words end"
      >bow {sizes.trim_deg.toFixed(1)}° up{sizes.guessed.includes('trim') ? ' (forecast)' : ''}</text
    >

    <path d={drawn(behind.hull, turned)} class="hull" />
    {#if behind.fin}<path d={drawn(behind.fin, turned)} class="metal" />{/if}
    <circle
      cx={turned(behind.propeller)[0]}
      cy={turned(behind.propeller)[1]}
      r={behind.radius * sternScale}
      class="disc"
    />
    <path
      d={drawn(behind.rudder, turned)}
      class={['metal', valueOf('rudder') !== undefined && 'grip along']}
      role="presentation"
      onpointerdown={(e) => take(e, 'rudder')}
    />
    <text x={sternX} y={sternY - 0.16 * L * sternScale} class="words middle">from behind</text>
  </svg>
</div>

<style>
  .water {
    fill: var(--water);
    opacity: 0.08;
  }
  .surface {
    fill: none;
    stroke: var(--water);
    stroke-width: 1.2;
  }
  .hull {
    fill: var(--sheet);
    fill-opacity: 0.9;
    stroke: var(--ink);
    stroke-width: 1.8;
    stroke-linejoin: round;
  }
  .metal,
  .half {
    fill: var(--ink);
  }
  .disc {
    fill: var(--ink);
    fill-opacity: 0.12;
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .shaft {
    stroke: var(--ink);
    stroke-width: 2;
  }
  .pack {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .ghost {
    fill: none;
    stroke: var(--ghost);
    stroke-width: 1.4;
    stroke-dasharray: 4 3;
  }
  .grip.along {
    cursor: ew-resize;
  }
  .grip.up {
    cursor: ns-resize;
  }
  .centre {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .force {
    stroke: currentColor;
    stroke-width: 2;
  }
  .head {
    fill: currentColor;
  }
  .ink {
    color: var(--ink);
  }
  .wet {
    color: var(--water);
  }
  .words {
    font-size: 12.5px;
    fill: var(--ink-2);
  }
  .end {
    text-anchor: end;
  }
  .middle {
    text-anchor: middle;
  }
</style>
