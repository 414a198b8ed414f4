<script lang="ts">
  import { pathTo, TROUBLES } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';

  /** What went wrong on the water: each leads to what helps. */
  let { setupId }: { setupId: number } = $props();
</script>

<nav aria-label="What was wrong" class="flex flex-wrap items-center gap-x-4 max-md:gap-y-1">
  <span class="quiet">What was wrong?</span>
  {#each TROUBLES as { key, name, mark, wish, answer } (key)}
    <a
      href={pathTo(mark, setupId)}
      title={answer}
      data-scroll-to-top={here.mark === mark ? 'false' : undefined}
      class="inline-flex items-center max-md:min-h-(--target)"
      onclick={() => (here.wish = wish)}>{name}</a
    >
  {/each}
</nav>
