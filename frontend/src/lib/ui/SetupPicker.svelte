<script lang="ts">
  import { api, ask, type SetupView } from '$lib/api/client';
  import { go, pathTo, type Mark } from '$lib/state/go';

  /** Which setup of the boat is on the sheet, and a way to the others. */
  let { setup, mark }: { setup: SetupView; mark: Mark } = $props();

  let others = $state<SetupView[]>([]);
  $effect(() => {
    const boatId = setup.boat_id;
    void ask(api.GET('/api/boats/{boat_id}/setups', { params: { path: { boat_id: boatId } } }))
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
<a class="export" href="/api/setups/{setup.id}/document" download>document</a>

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
