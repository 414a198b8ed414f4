<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte';
  import { onMount } from 'svelte';

  import Notice from '$lib/ui/Notice.svelte';
  import { day } from '$lib/units/day';

  import { BinState } from './bin.svelte';

  const bin = new BinState();
  onMount(() => void bin.load());
</script>

<svelte:head><title>Bin and archive · Kunstflug</title></svelte:head>

<h1>Bin and archive</h1>
{#if bin.problem}
  <Notice kind="problem">
    {bin.problem.message}
    <button class="plain" onclick={() => bin.load()}>Load again</button>
  </Notice>
{/if}
{#if bin.phase === 'loading'}
  <p class="quiet">Loading the bin…</p>
{:else if bin.phase === 'ready'}
  <section>
    <h2>Bin</h2>
    {#if bin.binned.length}
      <table>
        <thead
          ><tr
            ><th>Kind</th><th>Name</th><th>Includes</th><th>Deleted</th><th
              ><span class="visually-hidden">Actions</span></th
            ></tr
          ></thead
        >
        <tbody>
          {#each bin.binned as one (`${one.kind} ${one.id}`)}
            <tr>
              <td class="quiet">{one.kind.replace('-', ' ')}</td>
              <td><b>{one.name}</b></td>
              <td>{one.with_it}</td>
              <td>{day(one.deleted_at)}</td>
              <td class="n">
                <button class="link" onclick={() => bin.putBack(one)}>Restore</button>
                <button class="link" onclick={() => (bin.asked = one)}>Delete for good</button>
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    {:else}
      <p class="quiet">
        The bin is empty. Deleted boats, setups, runs, parts and logs stay here until you delete them for good.
      </p>
    {/if}
  </section>
  <section>
    <h2>Archived boats</h2>
    {#if bin.archived.length}
      <table>
        <thead
          ><tr
            ><th>boat</th><th class="n">setups</th><th class="n">runs</th><th
              ><span class="visually-hidden">Actions</span></th
            ></tr
          ></thead
        >
        <tbody>
          {#each bin.archived as boat (boat.id)}
            <tr>
              <td><b>{boat.name}</b> <span class="quiet">{boat.hull_type}</span></td>
              <td class="n">{boat.setups}</td>
              <td class="n">{boat.runs}</td>
              <td class="n"><button class="link" onclick={() => bin.takeOut(boat)}>Move back to the boats</button></td>
            </tr>
          {/each}
        </tbody>
      </table>
    {:else}
      <p class="quiet">No archived boats. Archive a boat you no longer race: its setups and runs are kept.</p>
    {/if}
  </section>
  <p class="quiet">
    For a copy of everything, run <code>kunstflug backup</code>; <code>kunstflug restore</code> brings it back.
  </p>
{/if}
<Modal
  open={bin.asked !== undefined}
  onclose={() => (bin.asked = undefined)}
  title="Delete for good?"
  aria-label="Delete for good?"
  size="sm"
  class="sheet-modal"
>
  <p>
    <b>{bin.asked?.name}</b>{bin.asked?.with_it ? ` with ${bin.asked.with_it}` : ''} cannot be restored after this, except
    from a backup.
  </p>
  <div class="choose">
    <button class="plain strong" onclick={() => bin.destroy()}>Delete for good</button>
    <button class="plain" onclick={() => (bin.asked = undefined)}>Keep in bin</button>
  </div>
</Modal>

<style>
  section {
    margin: 1rem 0 1.8rem;
    max-width: 64rem;
  }
  td,
  th {
    padding: 0.3rem 0.9rem 0.3rem 0;
  }
  .n button + button {
    margin-left: 0.9rem;
  }
  .choose {
    display: flex;
    gap: 0.5rem;
    margin-top: 1rem;
  }
</style>
