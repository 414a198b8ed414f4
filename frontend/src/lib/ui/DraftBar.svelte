<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Difference } from '$lib/api/client';
  import type { DraftState } from '$lib/state/draft.svelte';
  import Changes from '$lib/ui/Changes.svelte';

  /** What is being tried, and the three things to do with it. */
  let { match, onadopt }: { match: DraftState; onadopt: () => void } = $props();

  const differences = $derived((match.now?.differences ?? []) as Difference[]);
  const parts = $derived.by(() => {
    const found: Record<string, [string, string]> = {};
    for (const kind of Object.keys(match.changes)) {
      if (kind.includes('.') || kind === 'all_up_mass' || !match.setup || !match.now) continue;
      const key = kind as 'motor';
      found[kind] = [match.setup.document[key].name ?? '', match.now.document[key].name ?? ''];
    }
    return found;
  });
  const many = $derived(new Set(Object.keys(match.changes).map((path) => path)).size > 1);
</script>

{#if match.dirty || match.canUndo}
  <div
    class="bar sticky bottom-0 z-4 -mx-6 mt-3 -mb-12 flex flex-wrap items-center justify-between gap-x-4 gap-y-2 border-t border-ink bg-sheet px-6 py-2.5 max-md:bottom-15 max-md:-mx-3 max-md:-mb-4 max-md:px-3"
    role="region"
    aria-label="Draft"
  >
    {#if match.dirty}
      <div class="grid flex-[1_1_24rem] gap-0.5">
        <Changes changes={differences} {parts} />
        {#if match.now?.notes.length}<span class="text-[0.85rem] text-ink-2">{match.now.notes.join('; ')}</span>{/if}
        {#if many}<span class="text-[0.85rem] text-ochre">Several changes: a run cannot tell which one helped</span
          >{/if}
      </div>
    {:else}
      <div class="quiet flex-[1_1_24rem]">No changes</div>
    {/if}
    <div class="flex gap-1.5 max-md:w-full max-md:*:flex-1 max-md:*:px-1">
      <Button color="alternative" onclick={() => match.undo()} disabled={!match.canUndo}>Undo</Button>
      <Button color="alternative" onclick={() => match.clear()} disabled={!match.dirty}>Discard changes</Button>
      <Button
        onclick={onadopt}
        disabled={!match.dirty || match.saving || Boolean(match.problem && match.problem.status === 422)}
      >
        {match.saving ? 'Saving…' : 'Save as new setup'}
      </Button>
    </div>
  </div>
{/if}
