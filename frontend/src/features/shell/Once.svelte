<script lang="ts" generics="T">
  import type { Snippet } from 'svelte';

  /** Fetches what opens over the sheet when it is first asked for, and keeps it from then on: taken out while it fades
      away and asked for again at that moment, it was neither there nor to be had. */
  type Props = { open: boolean; from: () => Promise<{ default: T }>; children: Snippet<[T]> };
  let { open, from, children }: Props = $props();

  let asked = $state(false);
  $effect(() => {
    if (open) asked = true;
  });
</script>

{#if asked}
  {#await from() then { default: it }}{@render children(it)}{/await}
{/if}
