<script lang="ts">
  import type { Section } from '$lib/api/client';

  import { lettering, placed, slices, type PlacedShape } from './section';

  /** The section through the drive, to scale: so many screen pixels for each millimetre, or 1:1 on paper. */
  let { section, zoom = 1, chosen = '' }: { section: Section; zoom?: number; chosen?: string } = $props();

  let room = $state(900);
  const wide = $derived(section.right - section.left);
  /** On a phone the sheet is panned rather than shrunk: its sizes have to be read. */
  const READABLE = 2.4;
  const scale = $derived(Math.max((room - 2) / wide, READABLE) * zoom);
  const view = $derived(placed(section));
</script>

<!-- The strut: a barrel round the shaft, a swept blade, and the plate that is screwed to the transom or the bottom. -->
{#snippet strut(shape: PlacedShape)}
  {@const mid = shape.x + shape.w / 2}
  {@const barrel = Math.max(7, 2 * (shape.y + shape.h))}
  <g class:guess={shape.guess} class:chosen={shape.part === chosen}>
    <title>Strut{shape.guess ? ' (a guess)' : ''}</title>
    <path
      d="M{mid - 4} {-barrel / 2} L{mid + 3} {shape.y + 3.5} H{shape.x + shape.w} V{shape.y} H{shape.x + 6} V{shape.y +
        3.5} H{mid - 9} L{mid - 12} {-barrel / 2} Z"
      class="shape cast"
    />
    <rect x={shape.x} y={-barrel / 2} width={shape.w} height={barrel} rx="1.5" class="shape cast" />
    {#each [shape.x + 10, shape.x + shape.w - 4] as sx (sx)}
      <path d="M{sx - 1.6} {shape.y - 1.6} h3.2 v1.6 h-3.2 Z M{sx - 0.9} {shape.y} v5" class="shape" />
    {/each}
  </g>
{/snippet}

<!-- The stuffing tube: two walls, cut, and its bearing at the stern. -->
{#snippet stuffing(shape: PlacedShape)}
  {@const wall = Math.min(0.9, shape.h / 5)}
  <g class:guess={shape.guess} class:chosen={shape.part === chosen}>
    <title>{shape.label || 'Stuffing tube'}{shape.guess ? ' (a guess)' : ''}</title>
    <rect x={shape.x} y={shape.y} width={shape.w} height={wall} class="shape brass" />
    <rect x={shape.x} y={shape.y + shape.h - wall} width={shape.w} height={wall} class="shape brass" />
    <rect x={shape.x - 3} y={shape.y - 1} width="5" height={wall + 1.6} class="shape cast" />
    <rect x={shape.x - 3} y={shape.y + shape.h - wall - 0.6} width="5" height={wall + 1.6} class="shape cast" />
  </g>
{/snippet}

{#snippet drawing()}
  {#each view.shapes as shape, k (k)}
    {#if shape.kind === 'clash'}
      <rect x={shape.x} y={shape.y} width={shape.w} height={shape.h} fill="url(#hatch-clash)" class="clash" />
      <text x={shape.x + shape.w / 2} y={shape.y - 1.5} class="off" text-anchor="middle">{shape.label}</text>
    {:else if shape.kind === 'strut'}
      {@render strut(shape)}
    {:else if shape.kind === 'tube'}
      {@render stuffing(shape)}
    {:else}
      <rect
        x={shape.x}
        y={shape.y}
        width={shape.w}
        height={shape.h}
        class="shape {shape.kind}"
        class:guess={shape.guess}
        class:chosen={shape.part === chosen}
        rx={shape.kind === 'ring' ? shape.w / 2 : shape.kind === 'hub' ? shape.h / 2 : 0}
      >
        <title>{shape.label || shape.kind}{shape.guess ? ' (a guess)' : ''}</title>
      </rect>
      {#if shape.kind === 'disc'}
        <path
          d="M{shape.x + shape.w / 2} {shape.y} q{shape.w * 0.8} {shape.h * 0.25} 0 {shape.h / 2} q{-shape.w *
            0.8} {shape.h * 0.25} 0 {shape.h / 2}"
          class="blade"
        />
      {/if}
    {/if}
  {/each}
  <line x1={section.left + 4} x2={section.right - 4} y1="0" y2="0" class="axis" />
  {#each view.measures as m, k (k)}
    {@const word = lettering(m)}
    <g class="measure" class:guess={m.guess}>
      <line x1={m.x1} x2={m.x2} y1={m.y1} y2={m.y2} />
      {#if m.upright}
        <path d="M{m.x1 - 1.3} {m.y1} h2.6 M{m.x1 - 1.3} {m.y2} h2.6" />
      {:else}
        <path d="M{m.x1} {m.y1 - 1.3} v2.6 M{m.x2} {m.y1 - 1.3} v2.6" />
      {/if}
      <text
        x={word.x}
        y={word.y}
        transform={word.turned ? `rotate(-90 ${word.x} ${word.y})` : undefined}
        text-anchor="middle">{m.guess ? '~' : ''}{m.text}</text
      >
    </g>
  {/each}
{/snippet}

<svg width="0" height="0" class="defs" aria-hidden="true">
  <defs>
    <pattern id="hatch-clash" width="1.6" height="1.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <path d="M0 0 V1.6 M0 0 H1.6" stroke="var(--vermilion)" stroke-width="0.5" fill="none" />
    </pattern>
    <pattern id="hatch-cut" width="2" height="2" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
      <path d="M0 0 V2" stroke="var(--ink)" stroke-width="0.22" fill="none" />
    </pattern>
  </defs>
</svg>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="sheet" bind:clientWidth={room} tabindex="0" role="region" aria-label="Section to scale; scroll to pan">
  <svg
    class="screen"
    data-testid="section"
    data-scale={scale}
    width={wide * scale}
    height={(section.top - section.bottom) * scale}
    viewBox="{section.left} {-section.top} {wide} {section.top - section.bottom}"
    role="img"
    aria-label="Section through motor, coupler, shaft and propeller, to scale"
  >
    {@render drawing()}
  </svg>
</div>
<div class="paper" aria-hidden="true">
  {#each slices(section, 262) as slice, k (k)}
    <figure>
      <svg
        width="{slice.width}mm"
        height="{section.top - section.bottom}mm"
        viewBox="{slice.left} {-section.top} {slice.width} {section.top - section.bottom}"
      >
        {@render drawing()}
        <path d="M{slice.left + 5} {-section.bottom - 4} h50 m-50 -1.5 v3 m50 -3 v3" class="ruler" />
        <text x={slice.left + 57} y={-section.bottom - 3} class="said">50 mm on paper: print at 100 %</text>
      </svg>
    </figure>
  {/each}
</div>

<style>
  .defs {
    position: absolute;
  }
  .sheet {
    overflow: auto;
    max-height: 62vh;
    border: 1px solid var(--hair);
    background: var(--sheet);
  }
  .screen {
    display: block;
  }
  .shape {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 0.45;
    vector-effect: none;
  }
  .shape.guess {
    stroke-dasharray: 1.6 1;
  }
  .room {
    fill: none;
    stroke: var(--ink-2);
    stroke-width: 0.35;
  }
  .water {
    fill: var(--water-pale);
    stroke: none;
  }
  .jacket,
  .plate,
  .coupler {
    fill: url(#hatch-cut);
  }
  .hose {
    fill: var(--water-pale);
    stroke: var(--water);
  }
  .bore {
    fill: var(--paper);
  }
  .can {
    fill: var(--sheet);
    stroke-width: 0.6;
  }
  .cast {
    fill: var(--hair);
  }
  .brass {
    fill: url(#hatch-cut);
    stroke-width: 0.3;
  }
  .guess .shape {
    stroke-dasharray: 1.6 0.7;
  }
  .chosen .shape {
    stroke: var(--water);
    stroke-width: 0.9;
  }
  .shaft,
  .flex {
    fill: var(--hair);
  }
  .ring {
    fill: var(--ink);
  }
  .disc {
    fill: none;
    stroke: none;
  }
  .blade {
    fill: var(--hair);
    stroke: var(--ink);
    stroke-width: 0.5;
  }
  .chosen {
    stroke: var(--water);
    stroke-width: 0.9;
  }
  .clash {
    stroke: var(--vermilion);
    stroke-width: 0.4;
  }
  .off {
    font-size: 5px;
    font-weight: 650;
    fill: var(--vermilion);
  }
  .axis {
    stroke: var(--ink-2);
    stroke-width: 0.2;
    stroke-dasharray: 7 1.5 1.5 1.5;
  }
  .measure line,
  .measure path {
    stroke: var(--ink-2);
    stroke-width: 0.22;
    fill: none;
  }
  .measure text {
    paint-order: stroke;
    stroke: var(--sheet);
    stroke-width: 1.4px;
  }
  .measure text,
  .said {
    font-size: 4.6px;
    fill: var(--ink);
    font-weight: 500;
  }
  .measure.guess text {
    font-style: italic;
    fill: var(--ink-2);
  }
  .ruler {
    stroke: var(--ink);
    stroke-width: 0.3;
    fill: none;
  }
  .paper {
    display: none;
  }
  @media print {
    .sheet {
      display: none;
    }
    .paper {
      display: block;
    }
    figure {
      margin: 0;
      break-inside: avoid;
      overflow: hidden;
    }
    figure + figure {
      break-before: page;
    }
  }
</style>
