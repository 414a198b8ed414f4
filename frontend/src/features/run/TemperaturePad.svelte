<script lang="ts">
  import Asks from '$lib/ui/Asks.svelte';
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';

  import type { Soak } from '$lib/api/client';
  import { amountOf } from '$lib/units/amount';
  import { stopwatch } from '$lib/units/day';
  import { units, unitLabel, toSi } from '$lib/units/units.svelte';

  import type { NotesDraft } from './notes';
  import { lineOf, shouldRead } from './soak';

  /** The gun in its order, straight after landing; the soak clock fills in the minutes.
   * Of a drive that was followed, what each place should read by now stands beside it.
   */
  let { notes, soak, ontouch }: { notes: NotesDraft; soak?: Soak | undefined; ontouch: () => void } = $props();

  /** A clock that has run for longer tells nothing any more. */
  const LONGEST_MS = 30 * 60 * 1000;
  let tapped = $state<number | undefined>();
  let stopped = $state(false);
  const told = $derived(soak ? Date.parse(soak.landed_at) : undefined);
  const landed = $derived(
    tapped ?? (told !== undefined && !stopped && Date.now() - told < LONGEST_MS ? told : undefined),
  );
  let now = $state(Date.now());

  // Reaches outside: the clock.
  $effect(() => {
    if (landed === undefined) return undefined;
    const timer = setInterval(() => (now = Date.now()), 500);
    return () => clearInterval(timer);
  });
  const seconds = $derived(landed === undefined ? 0 : Math.max((now - landed) / 1000, 0));
  const clock = $derived(stopwatch(seconds));

  const lines = $derived(
    notes.readings.map((row) => {
      const place = soak?.places.find((p) => p.place === row.place);
      if (!soak || !place) return undefined;
      const value = amountOf(row.value);
      const minutes = amountOf(row.minutes);
      const at = value === undefined || minutes === undefined ? seconds : minutes * 60;
      if (landed === undefined && value === undefined) return undefined;
      const should = shouldRead(soak.seconds, place, at);
      return {
        should,
        asked: value === undefined ? undefined : lineOf(place, should, toSi({ value, unit: row.unit })),
      };
    }),
  );

  function typed(index: number): void {
    const row = notes.readings[index];
    if (row && landed !== undefined && row.minutes === '' && amountOf(row.value) !== undefined) {
      row.minutes = ((Date.now() - landed) / 60000).toFixed(1);
    }
    ontouch();
  }
</script>

<section>
  <h2 class="mb-1">Temperatures, in gun order <Asks of="run.gun" /></h2>
  <div class="flex items-center gap-3 min-h-[calc(var(--target)+4px)] text-sm">
    {#if landed === undefined}
      <Button color="alternative" onclick={() => (tapped = now = Date.now())}>Landed now</Button>
      <span class="quiet">starts the clock: the case keeps warming after you stop</span>
    {:else}
      <span class="text-[2rem] font-light font-stretch-[75%]" role="timer">{clock}</span>
      <span class="quiet">since landing</span>
      <Button color="alternative" onclick={() => ((tapped = undefined), (stopped = true))}>Stop</Button>
    {/if}
  </div>
  <ol class="list-none m-0 p-0">
    {#each notes.readings as row, k (row.place)}
      <li
        class="grid grid-cols-[minmax(6rem,1fr)_auto_auto] gap-3 items-center border-b border-b-hair min-h-[calc(var(--target)+2px)]"
      >
        <Label for="t{k}" class="text-base text-ink">{row.place}</Label>
        <span class="flex items-baseline">
          <Input
            id="t{k}"
            inputmode="decimal"
            bind:value={row.value}
            oninput={() => typed(k)}
            aria-label="{row.place}, {unitLabel(row.unit)}"
            class="w-17! bg-transparent text-right text-[1.15rem] font-semibold"
          />
          <span class="unit">{unitLabel(row.unit)}</span>
        </span>
        <span class="flex items-baseline">
          <Input
            inputmode="decimal"
            bind:value={row.minutes}
            oninput={ontouch}
            aria-label="{row.place}, minutes after landing"
            class="w-13! bg-transparent text-right font-normal"
          />
          <span class="unit">min after</span>
        </span>
        {#if lines[k]}
          {@const line = lines[k]}
          <span class="col-span-3 -mt-1 pb-1 text-sm" role="status">
            <span class="quiet"
              >should read {units.text(line.should.low, 'temperature')} to {units.text(
                line.should.high,
                'temperature',
              )}</span
            >
            {#if line.asked}<b class="block text-vermilion">{line.asked}</b>{/if}
          </span>
        {/if}
      </li>
    {/each}
  </ol>
</section>
