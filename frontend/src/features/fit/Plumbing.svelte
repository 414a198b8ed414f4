<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { HullType, Circuit, Piece, SolvedCircuit } from '$lib/api/client';
  import { outline } from '$lib/drawing/outline';
  import { units } from '$lib/units/units.svelte';

  import type { Path } from './circuit';
  import { plumbing, type Run } from './plumbing';

  /**
   * The water in the plan of the boat, stern at the left: a hose is as wide as its flow and as warm as its tone.
   * Focus a piece: arrows move it, Delete takes it out; the pointer pulls it.
   */
  let {
    circuit,
    solved,
    hull,
    at,
    onpick,
    onmove,
    onremove,
  }: {
    circuit: Circuit;
    solved: SolvedCircuit | undefined;
    hull: HullType;
    at: string;
    onpick: (path: Path) => void;
    onmove: (path: Path, by: 1 | -1) => void;
    onremove: (path: Path) => void;
  } = $props();

  const SIDE = 46;
  const BOW = 190;
  const drawn = $derived(plumbing(circuit, solved));
  const places = $derived(new Map((solved?.places ?? []).map((place) => [place.path.join('.'), place])));
  const most = $derived(Math.max(0.05, ...drawn.runs.map((run) => run.flow)));
  const temperatures = $derived((solved?.places ?? []).flatMap((p) => [p.before_c, p.after_c]));
  const cold = $derived(Math.min(...temperatures, 15));
  const warm = $derived(Math.max(...temperatures, cold + 5));
  const tone = $derived(scaleLinear<string>([cold, warm], ['#4d93a6', '#b5321b']).clamp(true));
  const ink = (c: number) => (Number.isFinite(c) ? tone(c) : 'var(--rule)');
  const thick = (flow: number) => 3 + (9 * flow) / most;
  const bend = ({ from, to }: Run) => {
    const half = (to.x - from.x) / 2;
    return `M${from.x} ${from.y} C${from.x + half} ${from.y} ${to.x - half} ${to.y} ${to.x} ${to.y}`;
  };
  /** The hull's own outline, stretched around the pieces. */
  const shape = $derived(outline(hull, 1.1));

  let pulled = $state<{ key: string; x: number } | undefined>();

  function onkeydown(event: KeyboardEvent, own: Path): void {
    if (event.key === 'ArrowRight') onmove(own, 1);
    else if (event.key === 'ArrowLeft') onmove(own, -1);
    else if (event.key === 'Delete' || event.key === 'Backspace') onremove(own);
    else if (event.key === 'Enter' || event.key === ' ') onpick(own);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function onpointermove(event: PointerEvent, own: Path, key: string): void {
    if (pulled?.key !== key) return;
    const by = event.clientX - pulled.x;
    if (Math.abs(by) > 60) {
      onmove(own, by > 0 ? 1 : -1);
      pulled = undefined;
    }
  }
  /** What stands under a piece: a hose's size, and what leaves a block or the outlet. */
  function beneath(piece: Piece, place: SolvedCircuit['places'][number] | undefined): string {
    if (piece.kind === 'hose') return `${piece.bore_mm} × ${piece.length_mm}`;
    if (!place || piece.kind === 'pickup' || piece.branches?.length) return '';
    return `${place.flow_l_min.toFixed(2)} L/min · ${units.text(place.after_c, 'temperature')}`;
  }
  const title = (piece: Piece) =>
    piece.branches?.length ? (piece.joins ? 'Y-piece' : 'Y-piece, own outlets') : piece.kind;
</script>

<svg
  viewBox="{-SIDE - 6} -18 {drawn.wide + SIDE + BOW + 12} {drawn.high + 36}"
  class="block max-h-[46vh] w-full min-w-180"
  role="group"
  aria-label="Water circuit"
>
  <g
    transform="translate({-SIDE} -14) scale({(drawn.wide + SIDE + BOW) / 96} {(drawn.high + 28) / 28}) translate(-2 -6)"
  >
    {#each shape.hulls.slice(0, 1) as d (d)}<path {d} class="hull" />{/each}
  </g>
  {#each drawn.runs as run (run.key)}
    <path d={bend(run)} class="wall" style:stroke-width="{thick(run.flow) + 3}px" />
  {/each}
  {#each drawn.runs as run (run.key)}
    <path d={bend(run)} class="water" style:stroke={ink(run.c)} style:stroke-width="{thick(run.flow)}px" />
  {/each}
  {#each drawn.spots as { piece, path, key, x, y, wide } (key)}
    {@const place = places.get(key)}
    <g
      class="piece"
      class:at={key === at}
      transform="translate({x} {y})"
      role="button"
      tabindex="0"
      aria-pressed={key === at}
      data-kind={piece.kind}
      onclick={() => onpick(path)}
      onkeydown={(e) => onkeydown(e, path)}
      onpointerdown={(e) => (pulled = { key, x: e.clientX })}
      onpointermove={(e) => onpointermove(e, path, key)}
      onpointerup={() => (pulled = undefined)}
    >
      <rect x={-wide / 2} y="-44" width={wide} height="88" class="touch" />
      {#if piece.kind === 'motor'}
        <rect x="-44" y="-21" width="88" height="42" class="block" />
        <path d="M-34 -21 v42 M-24 -21 v42 M-14 -21 v42 M-4 -21 v42 M6 -21 v42 M16 -21 v42 M26 -21 v42" class="fins" />
        <path d="M44 0 h16" class="shaft" />
      {:else if piece.kind === 'controller'}
        <rect x="-40" y="-20" width="80" height="40" class="block" />
        <path d="M-30 -12 h44 M-30 -4 h44 M-30 4 h44 M-30 12 h44" class="fins" />
        <circle cx="27" cy="-8" r="6" class="block" /><circle cx="27" cy="8" r="6" class="block" />
      {:else if piece.kind === 'pickup'}
        <path d="M-22 0 q-12 2 -14 16" class="scoop" />
      {:else if piece.kind === 'outlet'}
        <path d="M28 -4 q16 0 22 16 M28 4 q10 2 13 14" class="scoop" />
      {:else if piece.branches?.length}
        <circle r="7" class="block" />
      {/if}
      {#if (piece.open_part ?? 1) < 1}<path d="M-5 -14 l10 28 M5 -14 l-10 28" class="shut" />{/if}
      <text y="-29" class="name" text-anchor="middle">{title(piece)}</text>
      <text
        x={piece.kind === 'outlet' ? 34 : 0}
        y={piece.kind === 'hose' ? 26 : 36}
        class="size"
        text-anchor="middle"
        aria-hidden="true">{beneath(piece, place)}</text
      >
    </g>
  {/each}
</svg>
<p class="m-0 flex flex-wrap items-center gap-x-4 text-[0.82rem] text-ink-2 font-stretch-[85%]">
  <span>Width: flow, up to {most.toFixed(2)} L/min. Hose: bore × length, mm.</span>
  <span class="inline-flex items-center gap-1.5"
    >Tone: {units.text(cold, 'temperature')}
    <i
      class="inline-block h-2.5 w-24"
      style:background="linear-gradient(90deg, {tone(cold)}, {tone((cold + warm) / 2)}, {tone(warm)})"
    ></i>
    {units.text(warm, 'temperature')}</span
  >
</p>

<style>
  .hull {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.4px;
    vector-effect: non-scaling-stroke;
  }
  .wall {
    fill: none;
    stroke: var(--ink);
    opacity: 0.55;
  }
  .water {
    fill: none;
  }
  .piece {
    cursor: pointer;
    touch-action: none;
    outline-offset: -2px;
  }
  .touch {
    fill: transparent;
    stroke: none;
  }
  .piece:hover .touch,
  .piece.at .touch {
    stroke: var(--ink);
    stroke-width: 1;
    stroke-dasharray: 3 2;
  }
  .block {
    fill: var(--sheet);
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .fins {
    stroke: var(--ink-2);
    stroke-width: 0.8;
    fill: none;
  }
  .shaft {
    stroke: var(--ink);
    stroke-width: 4;
  }
  .scoop {
    fill: none;
    stroke: var(--water);
    stroke-width: 2.4;
  }
  .shut {
    stroke: var(--vermilion);
    stroke-width: 2.4;
  }
  .name {
    font-size: 14px;
    font-weight: 600;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
  }
  .size {
    font-size: 12.5px;
    fill: var(--ink-2);
    font-stretch: 80%;
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
  }
</style>
