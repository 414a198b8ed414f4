<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { conflict } from '$lib/state/conflict.svelte';
  import { link } from '$lib/offline/link.svelte';
  import type { Entry } from '$lib/offline/outbox';
  import { clock } from '$lib/units/day';

  /** Says when the network is away, what waits for it, and what could not be saved as it was typed. */
  const waits = $derived(link.waiting.length);
  async function choose(entry: Entry): Promise<void> {
    const theirs = entry.refused?.current;
    if (!theirs) return void (await link.decide(entry, 'theirs'));
    await link.decide(entry, await conflict.choose(entry.words, entry.body, theirs));
  }
</script>

{#if link.keptAt || waits || link.refused.length || link.full}
  <div
    class="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-ink bg-sheet px-6 py-1.5 max-md:px-3"
    data-testid="link"
    role="status"
  >
    {#if link.keptAt}<b>No connection: shown as of {clock(link.keptAt)}</b>{/if}
    {#if waits}<span
        >{waits === 1 ? link.waiting[0]?.words : `${waits} changes`}
        {waits === 1 ? 'waits' : 'wait'} on this device for the network</span
      >{/if}
    {#if link.full}<span class="text-vermilion"
        >This device has no room left: what you type now is lost when you close the page without network.</span
      >{/if}
    {#each link.refused as entry (entry.n)}
      <span class="flex flex-wrap items-center gap-3 text-vermilion">
        <span>Not saved: {entry.words}. {entry.refused?.words}</span>
        {#if entry.refused?.current}
          <Button color="alternative" onclick={() => choose(entry)}>Compare</Button>
        {:else}
          <Button color="alternative" onclick={() => link.decide(entry, 'mine')}>Try again</Button>
          <Button color="alternative" onclick={() => link.decide(entry, 'theirs')}>Throw away</Button>
        {/if}
      </span>
    {/each}
  </div>
{/if}
