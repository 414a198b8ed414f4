<script lang="ts">
  import Spinner from 'flowbite-svelte/Spinner.svelte';
  import type { Snippet } from 'svelte';

  /** Something is on its way, and what. */
  let { children }: { children: Snippet } = $props();
</script>

<p class="quiet flex items-center gap-2">
  <span aria-hidden="true"><Spinner size="4" currentFill="currentColor" /></span>
  {@render children()}
</p>
