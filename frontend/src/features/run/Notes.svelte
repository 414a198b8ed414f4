<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Textarea from 'flowbite-svelte/Textarea.svelte';

  import { chip } from '$lib/ui/theme';

  import type { NotesDraft } from './notes';

  /** Conditions and what the boat did: tapped, not written. */
  let {
    notes,
    waterStates,
    ontouch,
  }: { notes: NotesDraft; waterStates: NotesDraft['waterState'][]; ontouch: () => void } = $props();

  const SIGNS = [
    'planes cleanly',
    'runs wet',
    'bounces',
    'porpoises',
    'hops at the stern',
    'light bow',
    'walks on the chines',
    'pulls left',
    'pulls right',
    'hooks in turns',
    'washes out in turns',
    'blew over',
    'water inside',
    'sank',
  ];
  const others = $derived(notes.observations.filter((words) => !SIGNS.includes(words)));
  let own = $state('');

  function tap(words: string): void {
    notes.observations = notes.observations.includes(words)
      ? notes.observations.filter((w) => w !== words)
      : [...notes.observations, words];
    ontouch();
  }
  function add(): void {
    if (own.trim() && !notes.observations.includes(own.trim())) tap(own.trim());
    own = '';
  }
  const temperature = $derived(notes.temperatureUnit === 'degC' ? '°C' : '°F');
</script>

<section>
  <h2 class="mb-1">Conditions</h2>
  <div class="grid grid-cols-[repeat(4,minmax(0,1fr))] gap-3 mb-2">
    <Label>Water, {temperature} <Input inputmode="decimal" bind:value={notes.water} oninput={ontouch} /></Label>
    <Label>Air, {temperature} <Input inputmode="decimal" bind:value={notes.air} oninput={ontouch} /></Label>
    <Label>Wind, {notes.windUnit} <Input inputmode="decimal" bind:value={notes.wind} oninput={ontouch} /></Label>
    <Label>From, ° <Input inputmode="decimal" bind:value={notes.windFrom} oninput={ontouch} /></Label>
  </div>
  <div class="flex flex-wrap gap-1.5" role="group" aria-label="Water">
    {#each waterStates as water (water)}
      <Button
        aria-pressed={notes.waterState === water}
        onclick={() => {
          notes.waterState = notes.waterState === water ? '' : water;
          ontouch();
        }}
        class={chip}>{water}</Button
      >
    {/each}
  </div>
  <h2 class="mt-3.5 mb-1">What the boat did</h2>
  <div class="flex flex-wrap gap-1.5" role="group" aria-label="Observations">
    {#each [...SIGNS, ...others] as sign (sign)}
      <Button aria-pressed={notes.observations.includes(sign)} onclick={() => tap(sign)} class={chip}>{sign}</Button>
    {/each}
    <Input
      placeholder="something else"
      aria-label="Another observation"
      bind:value={own}
      onchange={add}
      class="w-40!"
    />
  </div>
  <Label class="mt-2.5">Note <Textarea rows={2} bind:value={notes.note} oninput={ontouch} class="w-full" /></Label>
</section>
