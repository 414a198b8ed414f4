<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { Knowledge } from '$lib/api/client';

  /** How often so many passes with each setup show a difference that is there. A drawing of its own: lines that say
      themselves what they are. */
  let { seen }: { seen: Knowledge['seen'] } = $props();

  let width = $state(320);
  const HEIGHT = 190;
  const LEFT = 40;
  const RIGHT = 46;
  const FOOT = 36;
  const FIRST = 2;
  const last = $derived(FIRST - 1 + Math.max(...seen.map((s) => s.chances.length)));
  const x = $derived(scaleLinear([FIRST, last], [LEFT, width - RIGHT]));
  const y = scaleLinear([0, 1], [HEIGHT - FOOT, 10]);
  const path = (chances: number[]) =>
    chances.map((chance, k) => `${k ? 'L' : 'M'}${x(FIRST + k).toFixed(1)} ${y(chance).toFixed(1)}`).join('');
  const percent = (part: number) => `${+(100 * part).toFixed(1)} %`;
  /** Where each line says what it is: at its end, those that end together one below the other. */
  const ends = $derived.by(() => {
    let above = -Infinity;
    return [...seen]
      .reverse()
      .map((s) => (above = Math.max(y(s.chances.at(-1) ?? 0), above + 15)))
      .reverse();
  });
</script>

<div bind:clientWidth={width}>
  <svg
    {width}
    height={HEIGHT}
    role="img"
    aria-label={`How often passes show a difference: ${seen.map((s) => `${percent(s.part)} with ${s.passes} passes of each setup`).join(', ')}, four times of five`}
  >
    {#each [0, 0.5, 1] as chance (chance)}
      <line x1={LEFT} x2={width - RIGHT} y1={y(chance)} y2={y(chance)} class="hair" />
      <text x={LEFT - 7} y={y(chance) + 4} class="tick" text-anchor="end">{100 * chance} %</text>
    {/each}
    <line x1={LEFT} x2={width - RIGHT} y1={y(0.8)} y2={y(0.8)} class="enough" />
    <text x={LEFT - 7} y={y(0.8) + 4} class="tick" text-anchor="end">80 %</text>
    {#each x.ticks(5) as count (count)}
      <text x={x(count)} y={HEIGHT - FOOT + 16} class="tick" text-anchor="middle">{count}</text>
    {/each}
    <text x={(LEFT + width - RIGHT) / 2} y={HEIGHT - 3} class="tick" text-anchor="middle">passes with each setup</text>
    {#each seen as s, k (s.part)}
      <path d={path(s.chances)} class="line" />
      {#if s.passes <= last}
        <circle cx={x(s.passes)} cy={y(s.chances[s.passes - FIRST] ?? 1)} r="4.5" class="dot" />
      {/if}
      <text x={width - RIGHT + 6} y={(ends[k] ?? 0) + 4} class="end">{percent(s.part)}</text>
    {/each}
  </svg>
</div>

<style>
  .end {
    font-size: 13px;
    font-weight: 600;
    fill: var(--ink);
  }
  .hair {
    stroke: var(--hair);
  }
  .enough {
    stroke: var(--ink-2);
    stroke-dasharray: 2 4;
  }
  .line {
    fill: none;
    stroke: var(--water);
    stroke-width: 2;
  }
  .dot {
    fill: var(--ink);
  }
</style>
