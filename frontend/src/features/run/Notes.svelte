<script lang="ts">
  import type { NotesDraft } from './run.svelte';

  /** Conditions and what the boat did: tapped, not written. */
  let { notes, waterStates, ontouch }: { notes: NotesDraft; waterStates: string[]; ontouch: () => void } = $props();

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
    'water inside',
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
  <h2>Conditions</h2>
  <div class="conditions">
    <label>water, {temperature} <input inputmode="decimal" bind:value={notes.water} oninput={ontouch} /></label>
    <label>air, {temperature} <input inputmode="decimal" bind:value={notes.air} oninput={ontouch} /></label>
    <label>wind, {notes.windUnit} <input inputmode="decimal" bind:value={notes.wind} oninput={ontouch} /></label>
    <label>from, ° <input inputmode="decimal" bind:value={notes.windFrom} oninput={ontouch} /></label>
  </div>
  <div class="taps" role="group" aria-label="Water">
    {#each waterStates as water (water)}
      <button
        class="tap"
        aria-pressed={notes.waterState === water}
        onclick={() => {
          notes.waterState = notes.waterState === water ? '' : water;
          ontouch();
        }}>{water}</button
      >
    {/each}
  </div>
  <h2>What the boat did</h2>
  <div class="taps" role="group" aria-label="Observations">
    {#each [...SIGNS, ...others] as sign (sign)}
      <button class="tap" aria-pressed={notes.observations.includes(sign)} onclick={() => tap(sign)}>{sign}</button>
    {/each}
    <input class="own" placeholder="something else" aria-label="Another observation" bind:value={own} onchange={add} />
  </div>
  <label class="note">note <textarea rows="2" bind:value={notes.note} oninput={ontouch}></textarea></label>
</section>

<style>
  h2 {
    margin: 0.9rem 0 0.3rem;
  }
  h2:first-child {
    margin-top: 0;
  }
  .conditions {
    display: grid;
    grid-template-columns: repeat(4, minmax(0, 1fr));
    gap: 0.8rem;
    margin-bottom: 0.5rem;
  }
  label {
    display: grid;
    font-size: 0.86rem;
    color: var(--ink-2);
  }
  input,
  textarea {
    width: 100%;
    min-height: var(--target);
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
    font-size: 1.05rem;
    padding: 0.1rem 0.2rem;
  }
  .taps {
    display: flex;
    flex-wrap: wrap;
    gap: 0.35rem;
  }
  .tap {
    min-height: var(--target);
    padding: 0 0.7rem;
    border: 1px solid var(--rule);
    color: var(--ink);
    font-size: 0.92rem;
  }
  .tap[aria-pressed='true'] {
    background: var(--ink);
    border-color: var(--ink);
    color: var(--paper);
  }
  .own {
    width: 10rem;
  }
  .note {
    margin-top: 0.6rem;
  }
</style>
