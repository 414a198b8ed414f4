<script lang="ts">
  import type { Pond } from '$lib/api/client';
  import { frameOf } from '$lib/state/shore.svelte';
  import { units } from '$lib/units/units.svelte';

  /** A pond from above, north up, with its longest straight. Own drawing: no library draws ponds. */
  let { pond }: { pond: Pond } = $props();

  const frame = $derived(frameOf(pond.corners.map(([a, b]) => [a ?? 0, b ?? 0])));
  const unit = $derived(frame[2] / 160);
  const y = (north: number): number => -north;
  const straight = $derived(pond.straight);
</script>

<svg
  viewBox="{frame[0]} {y(frame[1] + frame[3])} {frame[2]} {frame[3]}"
  class="block w-full self-start border border-rule bg-sheet"
  role="img"
  aria-label="{pond.name} from above, north up"
>
  <polygon
    points={pond.corners.map(([a, b]) => `${a},${y(b ?? 0)}`).join(' ')}
    class="fill-water/15 stroke-water"
    stroke-width={unit * 0.8}
    stroke-linejoin="round"
  />
  {#if straight}
    {@const [x1 = 0, y1 = 0] = straight.begin}
    {@const [x2 = 0, y2 = 0] = straight.end}
    <line
      {x1}
      y1={y(y1)}
      {x2}
      y2={y(y2)}
      class="stroke-ink"
      stroke-width={unit}
      stroke-dasharray="{unit * 4} {unit * 2}"
    />
    <text
      x={(x1 + x2) / 2}
      y={y((y1 + y2) / 2) - unit * 6}
      class="fill-ink font-semibold"
      font-size={unit * 7}
      text-anchor="middle">{units.text(straight.length_m, 'distance')}</text
    >
  {/if}
</svg>
