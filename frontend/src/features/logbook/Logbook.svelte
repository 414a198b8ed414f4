<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Search from 'flowbite-svelte/Search.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { onMount } from 'svelte';

  import { fileAt, type LogbookRun } from '$lib/api/client';
  import { pathTo } from '$lib/state/go';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import Wait from '$lib/ui/Wait.svelte';
  import { clock, day, shortDay } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import { LogbookState, type Only } from './logbook.svelte';
  import Season from './Season.svelte';

  /** All outings of all boats in time: what ran, what came out, what broke, what was mended. */
  const log = new LogbookState();
  onMount(() => void log.load());

  const KINDS: [Only, string][] = [
    ['', 'all runs'],
    ['damage', 'runs with damage'],
    ['stopped', 'runs on which it stopped'],
    ['track', 'runs with a track'],
  ];
  const book = $derived(log.book);
  const filtered = $derived(log.words !== '' || log.only !== '' || log.boat !== undefined);
  const open = $derived(book?.boats.filter((boat) => boat.open.length) ?? []);
  const weather = (outing: { water_c: number | null; air_c: number | null; wind_mps: number | null }): string =>
    [
      outing.water_c === null ? '' : `water ${units.text(outing.water_c, 'temperature', 0)}`,
      outing.air_c === null ? '' : `air ${units.text(outing.air_c, 'temperature', 0)}`,
      outing.wind_mps === null ? '' : `wind ${units.text(outing.wind_mps, 'wind')}`,
    ]
      .filter(Boolean)
      .join(', ');
  const words = (run: LogbookRun): string => [...run.seen, run.note].filter(Boolean).join('; ');
</script>

<svelte:head><title>Logbook · Kunstflug</title></svelte:head>

<h1 class="mb-5">Logbook</h1>
{#if log.problem}
  <Notice kind="problem">
    {log.problem.message}
    <Button color="alternative" onclick={() => log.load()}>Load again</Button>
  </Notice>
{/if}
{#if log.phase === 'loading'}
  <Wait>Opening the logbook…</Wait>
{:else if book}
  <Season {book} boat={log.boat} />
  <div class="mt-3 grid grid-cols-[minmax(0,1fr)_17rem] items-start gap-8 max-lg:grid-cols-[minmax(0,1fr)]">
    <div class="min-w-0">
      <div class="mb-3 flex flex-wrap items-end gap-3">
        <div class="min-w-40 flex-1">
          <Search
            size="md"
            clearable
            placeholder="Find words"
            aria-label="Find words in the logbook"
            bind:value={log.words}
            oninput={() => log.filter()}
          />
        </div>
        <Label
          >Boat
          <Select
            placeholder=""
            value={String(log.boat ?? '')}
            onchange={(e) => ((log.boat = Number(typed(e)) || undefined), void log.load())}
          >
            <option value="">all boats</option>
            {#each book.boats as boat (boat.boat_id)}<option value={String(boat.boat_id)}>{boat.name}</option>{/each}
          </Select>
        </Label>
        <Label
          >Show
          <Select placeholder="" value={log.only} onchange={(e) => ((log.only = typed(e) as Only), void log.load())}>
            {#each KINDS as [value, label] (value)}<option {value}>{label}</option>{/each}
          </Select>
        </Label>
      </div>
      {#each book.outings as outing (outing.runs[0]?.id)}
        <section
          class="border-t border-ink py-2.5"
          aria-label={`Outing of ${day(outing.started_at)}, ${clock(outing.started_at)}`}
        >
          <h2 class="text-base">
            {day(outing.started_at)}
            <span class="quiet ms-2 text-[0.9rem] font-normal"
              >{[weather(outing), outing.packs.join(', ')].filter(Boolean).join(' · ')}</span
            >
          </h2>
          <ul class="m-0 list-none p-0">
            {#each outing.runs as run (run.id)}
              <li class="grid grid-cols-[3.2rem_6.5rem_minmax(0,1fr)_6.5rem] gap-x-3 border-t border-hair py-1.5">
                <span class="quiet tabular-nums">{clock(run.started_at)}</span>
                <a class="font-semibold text-ink" href={`${pathTo('run', run.setup_id)}?run=${run.id}`}>{run.boat}</a>
                <div class="min-w-0 text-[0.92rem]">
                  <span class="quiet">{run.setup}</span>{#if words(run)}<span>: {words(run)}</span>{/if}
                  {#if run.stopped}<span class="short">{run.stopped}</span>{/if}
                  {#each run.open as damage (damage)}
                    <span class="short me-2"
                      >{damage}
                      <Button class={link} onclick={() => log.mend(run, damage)}>mended</Button></span
                    >
                  {/each}
                  {#each run.mended as damage (damage)}<span class="quiet me-2"><s>{damage}</s> mended</span>{/each}
                  {#if run.photo}<a href={fileAt(`/api/runs/${run.id}/photo.jpg`)}>picture</a>{/if}
                </div>
                <span class="text-right text-[1.05rem] whitespace-nowrap tabular-nums"
                  >{run.best_mps === null ? '' : units.text(run.best_mps, 'speed', 1)}</span
                >
              </li>
            {/each}
          </ul>
        </section>
      {:else}
        <p class="quiet border-t border-ink py-6">
          {filtered ? 'Nothing like that in the logbook.' : 'No run yet. Every run you take in or type in stands here.'}
        </p>
      {/each}
      {#if book.next}<Button class={link} onclick={() => log.more()}>Older outings</Button>{/if}
    </div>
    <aside class="grid gap-5 text-[0.92rem]">
      <section>
        <h2 class="mb-1 text-base">Best of each boat</h2>
        <ul class="m-0 list-none p-0">
          {#each book.boats as boat (boat.boat_id)}
            <li class="flex justify-between gap-3 border-t border-hair py-1.5">
              <span class="font-semibold">{boat.name}</span>
              {#if boat.best_mps !== null && boat.best_setup_id !== null && boat.best_at !== null}
                <a href={`${pathTo('run', boat.best_setup_id)}?run=${boat.best_run_id}`}
                  >{units.text(boat.best_mps, 'speed', 1)}, {shortDay(boat.best_at)}</a
                >
              {:else}<span class="quiet">not run yet</span>{/if}
            </li>
          {/each}
        </ul>
      </section>
      {#if open.length}
        <section>
          <h2 class="mb-1 text-base">Still broken</h2>
          {#each open as boat (boat.boat_id)}
            <p class="my-1"><b>{boat.name}</b>: <span class="short">{boat.open.join('; ')}</span></p>
          {/each}
        </section>
      {/if}
      {#if book.due.length}
        <section>
          <h2 class="mb-1 text-base">Service due</h2>
          {#each book.due as due (due.part_id)}<p class="my-1"><b>{due.name}</b>: {due.words}</p>{/each}
        </section>
      {/if}
      {#if book.events.length}
        <section>
          <h2 class="mb-1 text-base">What happened to parts</h2>
          {#each book.events.slice(0, 8) as event, k (k)}
            <p class="my-1">
              <span class="quiet">{shortDay(event.at)}</span>
              {event.part}: {event.words || event.kind}
            </p>
          {/each}
        </section>
      {/if}
    </aside>
  </div>
{/if}
