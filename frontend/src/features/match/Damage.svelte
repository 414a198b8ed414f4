<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { api, ask } from '$lib/api/client';
  import type { DraftState } from '$lib/state/draft.svelte';
  import Notice from '$lib/ui/Notice.svelte';

  /** What the last runs broke and nobody mended: a nicked propeller is counted in on request. */
  let { draft, boatId }: { draft: DraftState; boatId: number } = $props();

  const NICKED = 'propeller nicked';
  let open = $state.raw<string[]>([]);
  // Reaches outside: another boat has other damage. Without an answer there is nothing to say.
  $effect(() => {
    const path = { boat_id: boatId };
    ask(api.GET('/api/boats/{boat_id}/damage', { params: { path } })).then(
      (found) => (open = found),
      () => (open = []),
    );
  });
  const condition = $derived(draft.now?.document.propeller.condition);
</script>

{#if open.length}
  <Notice>
    Not mended yet: {open.join('; ')}.
    {#if open.includes(NICKED) && condition !== 'nicked'}
      The forecast is for a whole propeller.
      <Button color="alternative" onclick={() => draft.change('propeller.condition', 'nicked')}
        >Count the nick in</Button
      >
    {/if}
    <a href="/logbook">Logbook</a>
  </Notice>
{/if}
