<script lang="ts">
  import type { Step } from '$lib/api/client';

  /** A change in words: what, and its new value; of two that belong together the one that is done first. */
  let { step }: { step: Step } = $props();
  const both = $derived([step, ...(step.then ? [step.then] : [])]);
</script>

{#each both as { label, text, shelf_id }, k (label)}
  {k ? ', then ' : ''}{label.replace(/ (from the shelf|to buy)$/, '')} <b>{text}</b>{#if shelf_id !== null}
    <span class="ms-1 text-[0.78rem] text-ink-2">{label.endsWith('to buy') ? 'to buy' : 'shelf'}</span>{/if}
{/each}
