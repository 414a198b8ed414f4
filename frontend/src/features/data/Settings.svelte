<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import ButtonGroup from 'flowbite-svelte/ButtonGroup.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';

  import { account } from '$lib/state/account.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { knowing } from '$lib/state/knowing.svelte';
  import { theme } from '$lib/state/theme.svelte';
  import { welcome } from '$lib/state/welcome.svelte';
  import FileDrop from '$lib/ui/FileDrop.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { choice, link } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import { units } from '$lib/units/units.svelte';

  import { DataState } from './data.svelte';
  import { own } from './later';
  import Phones from './Phones.svelte';

  /** How it shows; all data out and in, in open forms; a boat in one file. */
  const data = new DataState();
</script>

<svelte:head><title>Settings · Kunstflug</title></svelte:head>

{#snippet pick(name: string, words: [string, string], second: boolean, change: () => void)}
  <ButtonGroup aria-label={name} class="items-baseline">
    <span class="me-1.5 text-ink-2">{name}</span>
    {#each words as word, k (word)}
      <Button aria-pressed={second === (k === 1)} onclick={() => second !== (k === 1) && change()} class={choice}
        >{word}</Button
      >
    {/each}
  </ButtonGroup>
{/snippet}

<h1>Settings</h1>
<div class="grid max-w-256 gap-7">
  <section class="mt-3">
    <h2 class="mb-1">How it shows</h2>
    <div class="flex flex-wrap items-baseline gap-x-6 gap-y-1">
      {@render pick('Units', ['metric', 'imperial'], units.system === 'imperial', () => units.switch())}
      {@render pick('Look', ['paper', 'bright sun'], theme.look === 'sun', () => theme.switch())}
      {@render pick('Forecasts', ['learnt from runs', 'as bought'], !knowing.learnt, () =>
        knowing.choose(!knowing.learnt),
      )}
      <Small label="Prices in" inputmode="text" value={units.currency} onchange={(e) => units.pay(typed(e))} />
    </div>
    {#if account.seen.demo && welcome.closed}
      <Button class={link} onclick={() => welcome.again()}>Show the first steps again</Button>
    {/if}
    <p class="quiet mt-1">What is judged cautiously or boldly is chosen for each boat, on Match and Aim.</p>
  </section>
  {#if account.seen.name}
    {#await own() then { default: Account }}<Account />{/await}
  {:else}
    <Phones />
  {/if}
  <section>
    <h2 class="mb-1">Bring data in</h2>
    <FileDrop accept=".zip,.json" onfile={(file) => void data.take(file)}>
      <b class="text-base">Drop a boat or a package here</b>
      <span class="text-[0.88rem] text-ink-2">Only what you do not have yet is added; nothing is overwritten</span>
    </FileDrop>
    {#if data.busy}
      {#if data.line}
        <Progressbar
          progress={Math.round((100 * data.line.done) / data.line.total)}
          size="h-2"
          role="progressbar"
          aria-label="Progress of the import"
          aria-valuenow={Math.round((100 * data.line.done) / data.line.total)}
        />
      {/if}
      <p role="status" class="quiet">
        {data.busy}{data.line && data.line.total > 1 ? ` boat ${data.line.done} of ${data.line.total}` : ''}
      </p>
    {/if}
    {#if data.problem}<Notice kind="problem">{data.problem.message}</Notice>{/if}
    {#if data.brought}<Notice>{data.brought}</Notice>{/if}
  </section>
  <section>
    <h2 class="mb-1">Take everything out</h2>
    <p class="max-w-[62ch]">
      <a href="/api/export.zip" download>Export everything</a>: one zip with tables as CSV, boats as JSON, tracks as
      GPX, logs as CSV and pictures, described as a Data Package. The bin is left out. For a copy of the database
      itself,
      <code>kunstflug backup</code> writes one while the program runs.
    </p>
  </section>
  <section>
    <h2 class="mb-1">Take one boat out</h2>
    {#if boathouse.boats.length}
      <Table>
        <TableHead
          ><TableHeadCell>Boat</TableHeadCell><TableHeadCell>Setups</TableHeadCell><TableHeadCell>Runs</TableHeadCell
          ><TableHeadCell>File</TableHeadCell></TableHead
        >
        <TableBody>
          {#each boathouse.boats as boat (boat.id)}
            <TableBodyRow>
              <TableBodyCell><b>{boat.name}</b></TableBodyCell>
              <TableBodyCell>{boat.setups}</TableBodyCell>
              <TableBodyCell>{boat.runs}</TableBodyCell>
              <TableBodyCell>
                <a class="me-4 inline-block py-1.5" href="/api/boats/{boat.id}/boat.json" download="{boat.name}.json"
                  >With tracks</a
                >
                <a
                  class="inline-block py-1.5"
                  href="/api/boats/{boat.id}/boat.json?tracks=false"
                  download="{boat.name}.json">Figures only</a
                >
              </TableBodyCell>
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
    {:else}
      <p class="quiet">No boat yet.</p>
    {/if}
  </section>
</div>
