<script lang="ts">
  import type { Forecast } from '$lib/api/client';
  import Verdict from '$lib/ui/Verdict.svelte';

  /** Dangers beside the limits of the parts, gravest first, each with its number. */
  let { dangers }: { dangers: Forecast['dangers'] } = $props();
</script>

<section>
  <h2>On the water</h2>
  {#if dangers.length}
    <dl>
      {#each dangers as danger (danger.title)}
        <dt>{danger.title} <Verdict verdict={danger.verdict} /></dt>
        <dd>{danger.sentence}.</dd>
      {/each}
    </dl>
  {:else}
    <p class="quiet">This drive does not run, so there is nothing to warn about.</p>
  {/if}
  <p class="quiet rule">
    Hulls and parts fly: nobody in the water, nobody on the line. The venue's rules and the makers' sheets come first.
  </p>
</section>

<style>
  h2 {
    margin: 0 0 0.3rem;
  }
  dl {
    margin: 0;
  }
  dt {
    font-weight: 600;
    display: flex;
    justify-content: space-between;
    border-top: 1px solid var(--hair);
    padding-top: 0.3rem;
  }
  dd {
    margin: 0 0 0.4rem;
    font-size: 0.9rem;
  }
  .rule {
    font-size: 0.85rem;
  }
</style>
