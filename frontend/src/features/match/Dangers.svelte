<script lang="ts">
  import type { Forecast } from '$lib/api/client';
  import Verdict from '$lib/ui/Verdict.svelte';

  /** Dangers beside the limits of the parts, gravest first, each with its number. */
  let { dangers }: { dangers: Forecast['dangers'] } = $props();
</script>

<section>
  <h2 class="mb-1">On the water</h2>
  {#if dangers.length}
    <dl class="m-0">
      {#each dangers as danger (danger.title)}
        <dt class="font-semibold flex justify-between border-t border-t-hair pt-1">
          {danger.title}
          <Verdict verdict={danger.verdict} />
        </dt>
        <dd class="mb-1.5 text-sm">{danger.sentence}</dd>
      {/each}
    </dl>
  {:else}
    <p class="quiet">This drive does not run, so there is nothing to warn about.</p>
  {/if}
  <p class="quiet text-[0.85rem]">
    Hulls and parts fly: nobody in the water, nobody on the line. The venue's rules and the makers' sheets come first.
  </p>
</section>
