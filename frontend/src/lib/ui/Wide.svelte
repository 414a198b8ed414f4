<script lang="ts">
  import type { Snippet } from 'svelte';

  /** Something wider than a phone: scrolled by hand or, once it has the focus, by keys. */
  let { label, children }: { label: string; children: Snippet } = $props();
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex (a place that scrolls has to take the focus, WCAG 2.1.1) -->
<div class="overflow-x-auto" role="region" aria-label={label} tabindex="0">{@render children()}</div>
