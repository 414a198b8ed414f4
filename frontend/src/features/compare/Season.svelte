<script lang="ts">
  import Asks from '$lib/ui/Asks.svelte';
  import { scaleLinear } from 'd3-scale';

  import type { Knowledge } from '$lib/api/client';
  import { shortDay } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  /** The season in order: of each run the band that was known before it, and what came. A drawing of its own, as each
      band belongs to one run. */
  let { knowledge }: { knowledge: Knowledge } = $props();

  let width = $state(640);
  const HEIGHT = 230;
  const LEFT = 44;
  const FOOT = 26;
  const runs = $derived(
    knowledge.judged.flatMap((run) => {
      const speed = run.readings.find((r) => r.dimension === 'speed');
      return speed && speed.then.low !== null && speed.then.high !== null ? [{ run, speed }] : [];
    }),
  );
  const factor = $derived(units.unit('speed').factor);
  const values = $derived(
    runs.flatMap(({ speed }) => [speed.read, speed.then.low ?? speed.read, speed.then.high ?? speed.read]),
  );
  const y = $derived(
    scaleLinear([Math.min(...values) * factor, Math.max(...values) * factor], [HEIGHT - FOOT - 8, 10]).nice(5),
  );
  const step = $derived((width - LEFT - 8) / Math.max(runs.length, 1));
  const x = (k: number) => LEFT + step * (k + 0.5);
  const half = $derived(Math.min(step * 0.36, 22));
  const every = $derived(Math.max(Math.ceil(58 / step), 1));
  const narrower = $derived.by(() => {
    const wide = (k: number) => {
      const said = runs[k]?.speed.then;
      return said?.low && said.high && said.value ? (said.high - said.low) / said.value : undefined;
    };
    const [first, last] = [wide(0), wide(runs.length - 1)];
    return first && last && runs.length > 1 ? Math.round(100 * (1 - last / first)) : undefined;
  });
</script>

{#if runs.length}
  <section>
    <h2 class="mt-6.5 mb-1">Season <Asks of="compare.then" /></h2>
    <p class="quiet max-w-[70ch]">
      Of each run the 80 % band that was known before it, and the speed that came.{narrower && narrower > 0
        ? ` The last band is ${narrower} % narrower than the first.`
        : ''}
    </p>
    <div bind:clientWidth={width} class="relative">
      <span class="unit absolute -top-4 right-0">{units.unit('speed').unit}</span>
      <svg
        {width}
        height={HEIGHT}
        role="img"
        aria-label="Speed of {runs.length} runs beside what was forecast for each"
      >
        {#each y.ticks(5) as t (t)}
          <line x1={LEFT} x2={width} y1={y(t)} y2={y(t)} class="hair" />
          <text x={LEFT - 8} y={y(t) + 4} class="tick" text-anchor="end">{t}</text>
        {/each}
        {#each runs as { run, speed }, k (run.run_id)}
          <g>
            <rect
              x={x(k) - half}
              width={2 * half}
              y={y((speed.then.high ?? 0) * factor)}
              height={Math.max(y((speed.then.low ?? 0) * factor) - y((speed.then.high ?? 0) * factor), 1)}
              class="band"
            />
            <line
              x1={x(k) - half}
              x2={x(k) + half}
              y1={y((speed.then.value ?? 0) * factor)}
              y2={y((speed.then.value ?? 0) * factor)}
              class="forecast"
            />
            <circle cx={x(k)} cy={y(speed.read * factor)} r="5" class={speed.inside ? 'dot' : 'dot missed'} />
          </g>
          {#if k % every === 0}
            <text x={x(k)} y={HEIGHT - 6} class="tick" text-anchor="middle">{shortDay(run.started_at)}</text>
          {/if}
        {/each}
      </svg>
    </div>
  </section>
{/if}

<style>
  .tick {
    font-size: 12.5px;
    fill: var(--ink-2);
  }
  .hair {
    stroke: var(--hair);
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
  .dot {
    fill: var(--ink);
  }
  .missed {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 2.5;
  }
</style>
