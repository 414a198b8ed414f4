<script lang="ts">
  import type { Field, Forecast, SetupDocument } from '$lib/api/client';

  import type { Station } from './driveline';
  import { knobs } from './knobs';
  import Knob from './Knob.svelte';
  import Load from './Load.svelte';
  import type { ChangeValue } from '$lib/state/draft.svelte';

  /** One station of the drive line: its part, its loads against their limits, its knobs. */
  let {
    station,
    title,
    document,
    saved,
    forecast,
    ghost,
    fields,
    onswap,
    ondetails,
    onpull,
  }: {
    station: Station;
    title: string;
    document: SetupDocument;
    saved: SetupDocument;
    forecast: Forecast;
    ghost?: Forecast | undefined;
    fields: Field[];
    onswap: (() => void) | undefined;
    ondetails: () => void;
    onpull: (path: string, value: ChangeValue) => void;
  } = $props();

  const part = $derived(document[station]);
  const doubts = $derived(forecast.doubts.filter((d) => d.path.startsWith(`${station}.`)));
  const loads = $derived(forecast.margins.filter((m) => m.station === station));
</script>

<section class="station" aria-label={title}>
  <h2>
    {title}
    <button class="swap" onclick={ondetails}
      >Details<span class="visually-hidden"> of the {title.toLowerCase()}</span></button
    >
    {#if onswap}<button class="swap" onclick={onswap}
        >swap<span class="visually-hidden"> the {title.toLowerCase()}</span></button
      >{/if}
  </h2>
  <p class="part" class:changed={part.name !== saved[station].name}>{part.name || '–'}</p>
  {#each doubts as doubt (doubt.path)}<p class="doubt">{doubt.sentence}</p>{/each}
  {#each loads as margin (margin.title)}
    <Load {margin} ghost={ghost?.margins.find((m) => m.title === margin.title)} />
  {/each}
  {#each knobs(station, document, saved, fields) as { path, ...knob } (path)}
    <Knob {...knob} onpull={(value) => onpull(path, value)} />
  {/each}
</section>

<style>
  .station {
    min-width: 0;
    padding: 0 0.7rem;
    border-left: 1px solid var(--hair);
  }
  .station:first-child {
    border-left: 0;
    padding-left: 0;
  }
  h2 {
    display: flex;
    flex-wrap: wrap;
    gap: 0 0.7rem;
    align-items: baseline;
    margin: 0.2rem 0 0;
  }
  .swap {
    font-size: 0.84rem;
    font-weight: 500;
    color: var(--water);
    text-decoration: underline;
    text-underline-offset: 2px;
    padding: 0.2rem 0.1rem;
    min-height: 24px;
  }
  .part {
    margin: 0 0 0.5rem;
    font-size: 0.88rem;
    font-stretch: 82%;
    color: var(--ink-2);
    min-height: 1.3em;
  }
  .doubt {
    margin: 0 0 0.4rem;
    padding-left: 0.5rem;
    border-left: 3px solid var(--ochre-mark);
    font-size: 0.8rem;
    font-stretch: 85%;
    color: var(--ochre);
  }
  .changed {
    color: var(--water);
    font-weight: 600;
  }
  @media (max-width: 760px) {
    .station {
      border-left: 0;
      border-top: 1px solid var(--ink);
      padding: 0.4rem 0 0.8rem;
    }
    .swap {
      min-height: var(--target);
      min-width: var(--target);
    }
  }
</style>
