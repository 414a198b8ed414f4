<script lang="ts">
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';

  /** The chance that a limit is passed: a bar, and the words beside it. */
  let { chance }: { chance: number } = $props();
  const hundredths = $derived(Math.round(100 * chance));
</script>

<span class="flex items-center gap-1.5 whitespace-nowrap" title="Chance that a limit is passed">
  <Progressbar progress={hundredths} size="h-1.5" class="w-10" aria-hidden="true" />
  <span class="text-[0.82rem] text-ink-2">{hundredths} in 100</span>
</span>
