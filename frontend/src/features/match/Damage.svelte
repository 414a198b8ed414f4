<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { api, ask } from '$lib/api/client';
  import type { DraftState } from '$lib/state/draft.svelte';
  import Notice from '$lib/ui/Notice.svelte';

  /** What the last runs broke and nobody mended: a nick or a bent rudder is counted in on request. */
  let { draft, boatId }: { draft: DraftState; boatId: number } = $props();

  /** Damage that the model knows, the field it stands in, and its word. */
  const KNOWN = {
    'propeller nicked': { path: 'propeller.condition', code: 'nicked' },
    'rudder damaged': { path: 'hull.hardware', code: 'damaged' },
    'strut bent': { path: 'hull.hardware', code: 'damaged' },
  } as const;
  let open = $state.raw<string[]>([]);
  // Reaches outside: another boat has other damage. Without an answer there is nothing to say.
  $effect(() => {
    const path = { boat_id: boatId };
    ask(api.GET('/api/boats/{boat_id}/damage', { params: { path } })).then(
      (found) => (open = found),
      () => (open = []),
    );
  });
  const standing = $derived({
    'propeller.condition': draft.now?.document.propeller.condition,
    'hull.hardware': draft.now?.document.hull.hardware,
  });
  const missing = $derived(
    open.flatMap((words) => {
      const known = KNOWN[words as keyof typeof KNOWN];
      return known && standing[known.path] !== known.code ? [known] : [];
    }),
  );
</script>

{#if open.length}
  <Notice>
    Not mended yet: {open.join('; ')}.
    {#if missing.length}
      The forecast is for a sound boat.
      <Button color="alternative" onclick={() => missing.forEach(({ path, code }) => draft.change(path, code))}
        >Count it in</Button
      >
    {/if}
    <a href="/logbook">Logbook</a>
  </Notice>
{/if}
