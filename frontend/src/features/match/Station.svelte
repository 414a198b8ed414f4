<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Field, Forecast, SetupDocument } from '$lib/api/client';
  import type { Changes, ChangeValue } from '$lib/state/draft.svelte';
  import Knob from '$lib/ui/Knob.svelte';
  import { link } from '$lib/ui/theme';

  import type { Station } from './driveline';
  import { knobs } from './knobs';
  import Load from './Load.svelte';

  /** One station of the drive line: its part, its loads against their limits, its knobs. */
  let {
    station,
    title,
    document,
    tried,
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
    tried: Changes;
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

<section
  class="min-w-0 [contain:layout_style] border-l border-l-hair px-3 first:border-l-0 first:pl-0 max-md:border-l-0 max-md:border-t max-md:border-t-ink max-md:px-0 max-md:pt-1.5 max-md:pb-3"
  aria-label={title}
>
  <h2 class="flex flex-wrap gap-x-2 gap-y-0 items-baseline mt-1">
    {title}
    <Button onclick={ondetails} class={[link, 'text-[0.84rem] max-md:min-h-(--target) max-md:min-w-(--target)']}
      >Details<span class="visually-hidden"> of the {title.toLowerCase()}</span></Button
    >
    {#if onswap}<Button
        onclick={onswap}
        class={[link, 'text-[0.84rem] max-md:min-h-(--target) max-md:min-w-(--target)']}
        >Swap<span class="visually-hidden"> the {title.toLowerCase()}</span></Button
      >{/if}
  </h2>
  <p
    class={[
      'mb-2 min-h-[1.3em] text-[0.88rem] font-stretch-[82%]',
      part.name === saved[station].name ? 'text-ink-2' : 'font-semibold text-water',
    ]}
  >
    {part.name || '–'}
  </p>
  {#each doubts as doubt (doubt.path)}<p
      class="mb-1.5 pl-2 border-l-3 border-l-ochre-mark text-xs font-stretch-[85%] text-ochre"
    >
      {doubt.sentence}
    </p>{/each}
  {#each loads as margin (margin.title)}
    <Load {margin} ghost={ghost?.margins.find((m) => m.title === margin.title)} />
  {/each}
  {#each knobs(station, document, saved, fields) as { path, ...knob } (path)}
    <Knob {...knob} tried={tried[path]} onpull={(value) => onpull(path, value)} />
  {/each}
</section>
