<script lang="ts">
  import { api, ask, type RunView, type SetupItem, type SetupView } from '$lib/api/client';
  import { allPages } from '$lib/api/pages';
  import { go, pathTo, type Mark } from '$lib/state/go';
  import { manage } from '$lib/state/manage.svelte';

  /** Which setup of the boat is on the sheet, and a way to the others. */
  let {
    setup,
    mark,
    run,
    onchanged,
  }: {
    setup: SetupView;
    mark: Mark;
    /** The run on the sheet, where there is one. */
    run?: RunView | undefined;
    /** Loads the sheet again after something was renamed, moved or taken out. */
    onchanged: () => Promise<void> | void;
  } = $props();

  let others = $state<SetupItem[]>([]);
  // Reaches outside: another setup may be of another boat, or have another name by now.
  $effect(() => {
    const boatId = setup.boat_id;
    void allPages((after) =>
      ask(
        api.GET('/api/boats/{boat_id}/setups', {
          params: { path: { boat_id: boatId }, query: { after: Number(after ?? 0) } },
        }),
      ),
    )
      .then((found) => (others = found))
      .catch(() => (others = []));
  });
</script>

{#if others.length > 1}
  <label class="pick">
    <span class="quiet">setup</span>
    <select value={String(setup.id)} onchange={(e) => go(pathTo(mark, Number(e.currentTarget.value)))}>
      {#each others as other, k (other.id)}
        <option value={String(other.id)}>{k + 1} · {other.name}{k === others.length - 1 ? ' (newest)' : ''}</option>
      {/each}
    </select>
  </label>
{:else}
  <span class="quiet">setup 1 · {setup.name}</span>
{/if}
<a class="export" href="/api/setups/{setup.id}/document" download>Download</a>
<button class="export link" onclick={() => manage.open(setup, () => run, onchanged)}>Manage…</button>

<style>
  .pick {
    display: inline-flex;
    align-items: baseline;
    gap: 0.4rem;
  }
  .export {
    font-size: 0.86rem;
  }
</style>
