<script lang="ts">
  import type { Difference } from '$lib/api/client';
  import Changes from '$lib/ui/Changes.svelte';

  import type { DraftState } from '$lib/state/draft.svelte';

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
  <div class="bar" role="region" aria-label="Draft">
    {#if match.dirty}
      <div class="what">
        <Changes changes={differences} {parts} />
        {#if match.now?.notes.length}<span class="note">{match.now.notes.join('; ')}</span>{/if}
        {#if many}<span class="note short">Several changes: a run cannot tell which one helped</span>{/if}
      </div>
    {:else}
      <div class="what quiet">No changes</div>
    {/if}
    <div class="do">
      <button class="plain" onclick={() => match.undo()} disabled={!match.canUndo}>Undo</button>
      <button class="plain" onclick={() => match.clear()} disabled={!match.dirty}>Discard changes</button>
      <button
        class="plain strong"
        onclick={onadopt}
        disabled={!match.dirty || match.saving || Boolean(match.problem && match.problem.status === 422)}
      >
        {match.saving ? 'Saving…' : 'Save as new setup'}
      </button>
    </div>
  </div>
{/if}

<style>
  .bar {
    position: sticky;
    bottom: 0;
    display: flex;
    justify-content: space-between;
    align-items: center;
    flex-wrap: wrap;
    gap: 0.5rem 1rem;
    margin: 0.8rem -1.5rem -3rem;
    padding: 0.6rem 1.5rem;
    background: var(--sheet);
    border-top: 1px solid var(--ink);
    z-index: 4;
  }
  .what {
    flex: 1 1 24rem;
    display: grid;
    gap: 0.1rem;
  }
  .note {
    font-size: 0.85rem;
    color: var(--ink-2);
  }
  .note.short {
    color: var(--ochre);
  }
  .do {
    display: flex;
    gap: 0.4rem;
  }
  @media (max-width: 760px) {
    .bar {
      bottom: 60px;
      margin: 0.8rem -0.75rem -1rem;
      padding: 0.5rem 0.75rem;
    }
    .do {
      width: 100%;
    }
    .do button {
      flex: 1;
      padding: 0 0.3rem;
    }
  }
</style>
