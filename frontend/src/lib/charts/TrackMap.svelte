<script lang="ts">
  import type { RunView, TrackView } from '$lib/api/client';
  import { units } from '$lib/units/units.svelte';

  import { drawTrack, indexAt, scaleLength } from './trackmap';

  /** The track from above, north up, darker where it was faster; passes by number. */
  let { track, run, cursor }: { track: TrackView; run: RunView; cursor?: number | undefined } = $props();

  let width = $state(420);
  const height = 290;
  const drawn = $derived(drawTrack(track, width, height, 44));
  const perUnit = $derived(drawn.pxPerMetre / units.unit('distance').factor);
  const bar = $derived(scaleLength(perUnit, width));
  const passes = $derived(
    (run.summary?.passes ?? []).map((pass, k) => ({
      name: String(k + 1),
      // Passes lie on top of one another: each pair of them is named a little further along.
      at: drawn.point(
        indexAt(track.time_s, pass.start_s + (pass.end_s - pass.start_s) * (0.2 + 0.25 * (Math.floor(k / 2) % 3))),
      ),
      side: pass.heading_deg < 180 ? -14 : 20,
    })),
  );
  const marked = $derived(cursor === undefined ? undefined : drawn.point(cursor));
  const wind = $derived(run.conditions as { wind_from_deg?: number; wind?: { value: number; unit: string } });
</script>

<div class="min-w-0 bg-sheet border border-hair" bind:clientWidth={width}>
  <svg
    {width}
    {height}
    role="img"
    aria-label="Track with {passes.length} passes, fastest {units.text(drawn.high, 'speed')}"
    class="block"
  >
    {#each drawn.paths as d, k (k)}
      <path {d} class="track c{k}" />
    {/each}
    {#each passes as pass (pass.name)}
      {#if pass.at}<text x={pass.at.x} y={pass.at.y + pass.side} class="pass" text-anchor="middle">{pass.name}</text
        >{/if}
    {/each}
    {#if marked}<circle cx={marked.x} cy={marked.y} r="6" class="cursor" />{/if}
    <g transform="translate(16 {height - 14})" class="scale">
      <path d="M0 -5 V0 H{bar * perUnit} V-5" />
      <text x={bar * perUnit + 7} y="1">{bar} {units.unit('distance').unit}</text>
    </g>
    <g transform="translate({width - 26} 26)" class="scale">
      <path d="M0 12 V-12 M-5 -5 L0 -13 L5 -5" />
      <text x="-4" y="27">N</text>
      {#if wind.wind_from_deg !== undefined && wind.wind && wind.wind.value > 0}
        <g transform="translate(-44 0) rotate({wind.wind_from_deg})" class="wind"
          ><path d="M0 -13 V13 M-4 6 L0 13 L4 6 M0 -13 L6 -10 M0 -8 L6 -5" /></g
        >
        <text x="-56" y="27">wind</text>
      {/if}
    </g>
    <g transform="translate({width - 118} {height - 20})">
      {#each { length: drawn.paths.length }, k (k)}<rect x={k * 9} width="9" height="7" class="key c{k}" />{/each}
      <text x="-6" y="8" class="small" text-anchor="end">0</text>
      <text x="78" y="8" class="small">{units.show(drawn.high, 'speed', 0).text}</text>
    </g>
  </svg>
</div>

<style>
  .track {
    fill: none;
    stroke-width: 3;
    stroke-linejoin: round;
    stroke-linecap: round;
  }
  .key {
    stroke: none;
  }
  .c0 {
    stroke: #b9cfd2;
  }
  .c1 {
    stroke: #a3c1c7;
  }
  .c2 {
    stroke: #89b0ba;
  }
  .c3 {
    stroke: #6b9cab;
  }
  .c4 {
    stroke: #4a8499;
  }
  .c5 {
    stroke: #2a6980;
  }
  .c6 {
    stroke: #184a60;
  }
  .c7 {
    stroke: #0c2634;
    stroke-width: 4;
  }
  .key.c0 {
    fill: #b9cfd2;
  }
  .key.c1 {
    fill: #a3c1c7;
  }
  .key.c2 {
    fill: #89b0ba;
  }
  .key.c3 {
    fill: #6b9cab;
  }
  .key.c4 {
    fill: #4a8499;
  }
  .key.c5 {
    fill: #2a6980;
  }
  .key.c6 {
    fill: #184a60;
  }
  .key.c7 {
    fill: #0c2634;
  }
  .pass {
    font-weight: 650;
    font-size: 15px;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--sheet);
    stroke-width: 3px;
  }
  .cursor {
    fill: var(--sheet);
    stroke: var(--vermilion);
    stroke-width: 2.5;
  }
  .scale path {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.3;
  }
  .scale text,
  .small {
    font-size: 12px;
    fill: var(--ink-2);
    stroke: none;
  }
  .wind path {
    stroke: var(--water);
    fill: none;
    stroke-width: 1.6;
  }
</style>
