<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';
  import { onMount } from 'svelte';

  import Notice from '$lib/ui/Notice.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';
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
    <Button color="alternative" onclick={() => bin.load()}>Load again</Button>
  </Notice>
{/if}
{#if bin.phase === 'loading'}
  <Wait>Loading the bin…</Wait>
{:else if bin.phase === 'ready'}
  <section class="mt-4 mb-7 max-w-256">
    <h2 class="mb-1.5">Bin</h2>
    {#if bin.binned.length}
      <Table>
        <TableHead
          ><TableHeadCell>Kind</TableHeadCell><TableHeadCell>Name</TableHeadCell><TableHeadCell>Includes</TableHeadCell
          ><TableHeadCell>Deleted</TableHeadCell><TableHeadCell
            ><span class="visually-hidden">Actions</span></TableHeadCell
          ></TableHead
        >
        <TableBody>
          {#each bin.binned as one (`${one.kind} ${one.id}`)}
            <TableBodyRow>
              <TableBodyCell class="quiet">{one.kind.replace('-', ' ')}</TableBodyCell>
              <TableBodyCell><b>{one.name}</b></TableBodyCell>
              <TableBodyCell>{one.with_it}</TableBodyCell>
              <TableBodyCell>{day(one.deleted_at)}</TableBodyCell>
              <TableBodyCell class="n">
                <Button onclick={() => bin.putBack(one)} class={link}>Restore</Button>
                <Button onclick={() => (bin.asked = one)} class={[link, 'ms-3.5']}>Delete for good</Button>
              </TableBodyCell>
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
    {:else}
      <p class="quiet">
        The bin is empty. Deleted boats, setups, runs, parts and logs stay here until you delete them for good.
      </p>
    {/if}
  </section>
  <section class="mt-4 mb-7 max-w-256">
    <h2 class="mb-1.5">Archived boats</h2>
    {#if bin.archived.length}
      <Table>
        <TableHead
          ><TableHeadCell>Boat</TableHeadCell><TableHeadCell class="n">Setups</TableHeadCell><TableHeadCell class="n"
            >runs</TableHeadCell
          ><TableHeadCell><span class="visually-hidden">Actions</span></TableHeadCell></TableHead
        >
        <TableBody>
          {#each bin.archived as boat (boat.id)}
            <TableBodyRow>
              <TableBodyCell><b>{boat.name}</b> <span class="quiet">{boat.hull_type}</span></TableBodyCell>
              <TableBodyCell class="n">{boat.setups}</TableBodyCell>
              <TableBodyCell class="n">{boat.runs}</TableBodyCell>
              <TableBodyCell class="n"
                ><Button onclick={() => bin.takeOut(boat)} class={link}>Move back to the boats</Button></TableBodyCell
              >
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
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
>
  <p>
    <b>{bin.asked?.name}</b>{bin.asked?.with_it ? ` with ${bin.asked.with_it}` : ''} cannot be restored after this, except
    from a backup.
  </p>
  <div class="flex gap-2 mt-4">
    <Button onclick={() => bin.destroy()}>Delete for good</Button>
    <Button color="alternative" onclick={() => (bin.asked = undefined)}>Keep in bin</Button>
  </div>
</Modal>
