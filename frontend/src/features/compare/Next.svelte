<script lang="ts">
  import Asks from '$lib/ui/Asks.svelte';
  import type { Knowledge } from '$lib/api/client';

  import Power from './Power.svelte';

  /** What to measure next, and how many passes it takes to see a difference. */
  let { knowledge }: { knowledge: Knowledge } = $props();

  const wanted = $derived([...new Set(knowledge.measure.map((m) => m.wanted))]);
  const LISTED = 4;
  const LEAST = 0.005;
  const best = (of: string) => knowledge.measure.filter((m) => m.wanted === of && m.narrows >= LEAST).slice(0, LISTED);
  const percent = (part: number | null) => (part === null ? '' : `${(100 * part).toFixed(1)} %`);
</script>

<div class="mt-6.5 grid grid-cols-[repeat(auto-fit,minmax(17rem,1fr))] gap-x-8 gap-y-4">
  {#each wanted as of (of)}
    <section>
      <h2 class="mb-1">Measure next: {of.toLowerCase() === 'motor' ? 'motor temperature' : of.toLowerCase()}</h2>
      <ol class="m-0 list-none p-0">
        {#each best(of) as m (m.words)}
          <li class="grid grid-cols-[minmax(0,1fr)_5.5rem] items-center gap-x-3 border-b border-hair py-1">
            <span>{m.words}</span>
            <span class="text-right" title="part of the band that it would take away"
              ><b>−{Math.max(Math.round(100 * m.narrows), 1)} %</b> <span class="quiet">band</span></span
            >
          </li>
        {:else}
          <li class="quiet">Nothing on the list would narrow it by a percent.</li>
        {/each}
      </ol>
    </section>
  {/each}
  {#if knowledge.limit_of_day !== null}
    <section>
      <h2 class="mb-1">Can it be seen? <Asks of="compare.effect" /></h2>
      <p class="m-0">
        Two runs of one setup differ by less than <b>{percent(knowledge.limit_of_day)}</b> on one day and by less than
        <b>{percent(knowledge.limit_of_days)}</b> on two, 95 times of 100.
      </p>
      <p class="mt-1">
        How often passes show a difference of so much in speed that is there; a dot where it is four times of five. Run
        them A B B A, so that a wind that rises or a pack that sags falls out.
      </p>
      <Power seen={knowledge.seen} />
    </section>
  {/if}
</div>
