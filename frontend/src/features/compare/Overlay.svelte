<script lang="ts">
  import Asks from '$lib/ui/Asks.svelte';
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';

  import type { TrailView } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { units } from '$lib/units/units.svelte';

  import { type Pass, passes } from './passes';

  /** The fastest pass of each setup's newest run, laid over one another from where each begins. */
  let { trail }: { trail: TrailView } = $props();

  let width = $state(640);
  const height = 260;
  const box = $derived({ left: 46, right: width > 480 ? 150 : 104, top: 26, bottom: 44 });
  const DASHES = ['', '7 4', '2 3', '10 3 2 3', '1 5'];
  let found = $state.raw<Pass[]>([]);
  // Reaches outside: another trail asks for its tracks.
  $effect(() => {
    const asked = trail;
    passes(asked)
      .then((made) => {
        if (asked === trail) found = made;
      })
      .catch(() => {
        found = [];
      });
  });

  const factor = $derived(units.unit('speed').factor);
  const first = $derived(Math.min(0, ...found.flatMap((p) => p.seconds)));
  const last = $derived(Math.max(1, ...found.flatMap((p) => p.seconds)));
  const top = $derived(Math.max(1, ...found.flatMap((p) => p.mps)));
  const x = $derived(scaleLinear([first, last], [box.left, width - box.right]));
  const y = $derived(scaleLinear([0, top * factor * 1.05], [height - box.bottom, box.top]));
  const drawn = $derived(
    found.map((pass) => ({
      pass,
      d: line<number>()
        .x((_, k) => x(pass.seconds[k] ?? 0))
        .y((v) => y(v * factor))(pass.mps),
      end: y((pass.mps.at(-1) ?? 0) * factor),
    })),
  );
  /** Names at the ends of the lines, none on another. */
  const labels = $derived.by(() => {
    let above = -Infinity;
    return drawn
      .map((d, k) => ({ k, text: d.pass.setup, y: d.end }))
      .toSorted((a, b) => a.y - b.y)
      .map((label) => {
        above = Math.max(label.y, above + 16);
        return { ...label, y: above };
      });
  });
  const at = (pass: Pass, s: number) => {
    const k = pass.seconds.findIndex((t) => t >= s);
    return k < 0 ? '' : units.text(pass.mps[k] ?? null, 'speed', 0);
  };
  const readings = $derived(
    [...Array(Math.ceil(last - first) * 2 + 1).keys()]
      .map((k) => first + k / 2)
      .filter((s) => s <= last)
      .map((s) => ({ px: x(s), cells: [`${s.toFixed(1)} s`, ...found.map((p) => at(p, s))] })),
  );
</script>

{#if found.length > 1}
  <section class="overflow-x-clip">
    <h2 class="mt-6.5 mb-1">Passes <Asks of="run.passes" /></h2>
    <p class="quiet max-w-[70ch]">The fastest pass of each setup's newest run, from where it begins.</p>
    <Frame
      label="Fastest passes of {found.length} setups over one another"
      name="Passes"
      bind:width
      {height}
      {box}
      x={x.ticks(width > 420 ? 8 : 5).map((t) => ({ px: x(t), text: String(t) }))}
      y={y.ticks(5).map((t) => ({ px: y(t), text: String(t) }))}
      xLabel="seconds"
      yLabel={units.unit('speed').unit}
      columns={['Seconds', ...found.map((p) => p.setup)]}
      {readings}
    >
      {#each drawn as { pass, d }, k (pass.runId)}
        <path {d} class="pass" class:newest={k === drawn.length - 1} stroke-dasharray={DASHES[drawn.length - 1 - k]} />
      {/each}
      {#each labels as label (label.k)}
        <text x={width - box.right + 8} y={label.y + 4} class="name">{label.text}</text>
      {/each}
    </Frame>
  </section>
{/if}

<style>
  .pass {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.75;
  }
  .newest {
    stroke: var(--water);
    stroke-width: 2.5;
  }
  .name {
    font-size: 13px;
    fill: var(--ink);
  }
</style>
