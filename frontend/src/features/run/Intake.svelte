<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';

  import FileDrop from '$lib/ui/FileDrop.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import { moment } from '$lib/units/day';

  import Columns from './Columns.svelte';

  import type { RunState } from './run.svelte';

  /** Three ways in: a file from the logger, what the racer read off a display, or the simulated pond. */
  let { state: runs }: { state: RunState } = $props();

  let pondOpen = $state(false);
  let pond = $state({
    seed: Math.floor(Math.random() * 9000) + 1,
    passes: 4,
    water_c: 16,
    air_c: 18,
    wind_mps: 2,
    wind_from_deg: 240,
  });
</script>

<div class="flex gap-3 items-stretch flex-wrap">
  <FileDrop
    accept=".gpx,.nmea,.ubx,.fit,.tcx,.kml,.kmz,.geojson,.json,.igc,.txt,.log,.csv,.tsv,.dat,.gz,.zip"
    class="flex-[1_1_20rem]"
    onfile={(file) => void runs.take(file)}
  >
    <b class="text-base">Import a log</b>
    <span class="text-[0.88rem] text-ink-2"
      >A track from any logger (GPX, NMEA, UBX, FIT, TCX, KML, GeoJSON, IGC, CSV, also zipped) starts a new run; a
      controller's or charger's CSV goes to the run below</span
    >
  </FileDrop>
  <Button class="h-auto max-md:order-first max-md:basis-full" disabled={runs.busy !== ''} onclick={() => runs.typeIn()}
    >Type in a run</Button
  >
  <div class="max-md:flex-1">
    <Button
      color="alternative"
      class="h-full max-md:w-full"
      aria-expanded={pondOpen}
      onclick={() => (pondOpen = !pondOpen)}>Simulated pond</Button
    >
  </div>
</div>
{#if pondOpen}
  <form
    class="flex flex-wrap gap-x-4 gap-y-2 items-end py-2.5 px-0"
    onsubmit={(e) => {
      e.preventDefault();
      pondOpen = false;
      void runs.simulate($state.snapshot(pond));
      pond.seed += 1;
    }}
  >
    <p class="quiet w-full">Drives this setup with hidden true values and records what your devices would log.</p>
    <Label>Passes <Input type="number" min={1} max={20} bind:value={pond.passes} class="w-24!" /></Label>
    <Label>Water, °C <Input type="number" min={0} max={35} step={0.5} bind:value={pond.water_c} class="w-24!" /></Label>
    <Label>Air, °C <Input type="number" min={-10} max={45} step={0.5} bind:value={pond.air_c} class="w-24!" /></Label>
    <Label>Wind, m/s <Input type="number" min={0} max={12} step={0.5} bind:value={pond.wind_mps} class="w-24!" /></Label
    >
    <Label
      >From, ° <Input type="number" min={0} max={360} step={5} bind:value={pond.wind_from_deg} class="w-24!" /></Label
    >
    <Button type="submit">Drive</Button>
  </form>
{/if}
{#if runs.busy}<p role="status" class="quiet">{runs.busy}</p>{/if}
{#if runs.offer}
  {@const { file, said, problem } = runs.offer}
  {#if problem.tracks}
    <Notice>
      There are {problem.tracks.length} tracks in <b>{file.name}</b>. Which one is this run?
      <div class="mt-2 flex flex-wrap gap-2">
        {#each problem.tracks as track, k (k)}
          <Button color="alternative" onclick={() => runs.take(file, { ...said, track: k })}>
            {track.name || `Track ${k + 1}`}: {Math.round(track.seconds)} s{track.started_at
              ? `, ${moment(track.started_at)}`
              : ''}
          </Button>
        {/each}
        <Button class={link} onclick={() => (runs.offer = undefined)}>None of them</Button>
      </div>
    </Notice>
  {:else}
    <Notice kind="problem">
      <b>{file.name}</b> has {(problem.broken ?? 1) > 1 ? `${problem.broken} faults` : 'a fault'}. {problem.message}
      {problem.readable} samples over {Math.round(problem.seconds ?? 0)} s can be read.
      <div class="flex gap-2 mt-2">
        <Button onclick={() => runs.take(file, { ...said, acceptDamage: true })}>Import the readable part</Button>
        <Button color="alternative" onclick={() => (runs.offer = undefined)}>Cancel</Button>
      </div>
    </Notice>
  {/if}
{/if}
{#if runs.looked}
  {#key runs.looked}
    <Columns
      file={runs.looked.file}
      look={runs.looked.look}
      run={runs.run !== undefined}
      onread={(mapping) => runs.looked && runs.take(runs.looked.file, { mapping })}
      oncancel={() => (runs.looked = undefined)}
    />
  {/key}
{/if}
{#if runs.problem}<Notice kind="problem">{runs.problem.message}</Notice>{/if}
