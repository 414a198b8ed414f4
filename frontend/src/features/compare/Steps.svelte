<script lang="ts">
  import type { Step } from '$lib/api/client';
  import { pathTo } from '$lib/state/go';
  import Chance from '$lib/ui/Chance.svelte';
  import Change from '$lib/ui/Change.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import Wait from '$lib/ui/Wait.svelte';
  import { units } from '$lib/units/units.svelte';

  /** The best few single changes from the setup on the sheet; Match has them all and tries them. */
  let { steps, setupId, runs }: { steps: Step[] | undefined; setupId: number; runs: number } = $props();

  const LISTED = 4;
</script>

<section>
  <h2 class="mt-6.5 mb-1">Next change</h2>
  {#if !steps}
    <Wait>Trying every change…</Wait>
  {:else if steps.length}
    <p class="quiet mb-1 max-w-[70ch]">
      {runs ? 'By what the runs taught.' : 'As bought: no run has taught anything yet.'} One change at a time, or you cannot
      tell what helped. <a href={pathTo('match', setupId)}>Try them in Match</a>
    </p>
    <ol class="m-0 max-w-[46rem] list-none p-0" aria-label="Next changes">
      {#each steps.slice(0, LISTED) as step (step.label + step.text + (step.then?.text ?? ''))}
        <li
          class="grid grid-cols-[minmax(0,1fr)_6rem_6rem_9rem] items-baseline gap-x-3 border-b border-hair py-1 max-md:grid-cols-[minmax(0,1fr)_6rem_6rem]"
        >
          <span title={step.sentence}><Change {step} /></span>
          <span class="text-right">{units.change(step.gain_mps, 'speed')} {units.unit('speed').unit}</span>
          <span class="quiet text-right"
            >{units.change(step.case_gain_c, 'temperature')} {units.unit('temperature').unit}</span
          >
          <span class="max-md:col-span-3"><Verdict verdict={step.verdict} /><Chance chance={step.chance} /></span>
        </li>
      {/each}
    </ol>
  {:else}
    <p class="quiet">No change from here runs.</p>
  {/if}
</section>
