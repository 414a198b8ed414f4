<script lang="ts">
  import type { Pond } from '$lib/api/client';
  import PondShape from '$lib/drawing/Pond.svelte';
  import { cornersOf, frameOf } from '$lib/state/shore.svelte';
  import { units } from '$lib/units/units.svelte';

  /** A pond from above, north up, with its longest straight. */
  let { pond }: { pond: Pond } = $props();

  const corners = $derived(cornersOf(pond.corners));
  const frame = $derived(frameOf(corners));
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
  <PondShape {corners} {straight} {unit} />
  {#if straight}
    <text
      x={((straight.begin[0] ?? 0) + (straight.end[0] ?? 0)) / 2}
      y={y(((straight.begin[1] ?? 0) + (straight.end[1] ?? 0)) / 2) - unit * 6}
      class="fill-ink font-semibold"
      font-size={unit * 7}
      text-anchor="middle">{units.text(straight.length_m, 'distance')}</text
    >
  {/if}
</svg>
