<script lang="ts">
  import { unitLabel } from '$lib/units/units.svelte';

  import { numberOf, type NotesDraft } from './run.svelte';

  /** The gun in its order, straight after landing; the soak clock fills in the minutes. */
  let { notes, ontouch }: { notes: NotesDraft; ontouch: () => void } = $props();

  let landed = $state<number | undefined>();
  let now = $state(Date.now());

  // Reaches outside: the clock.
  $effect(() => {
    if (landed === undefined) return undefined;
    const timer = setInterval(() => (now = Date.now()), 500);
    return () => clearInterval(timer);
  });
  const seconds = $derived(landed === undefined ? 0 : Math.max((now - landed) / 1000, 0));
  const clock = $derived(`${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`);

  function typed(index: number): void {
    const row = notes.readings[index];
    if (row && landed !== undefined && row.minutes === '' && numberOf(row.value) !== undefined) {
      row.minutes = ((Date.now() - landed) / 60000).toFixed(1);
    }
    ontouch();
  }
</script>

<section class="pad">
  <h2>Temperatures, in gun order</h2>
  <div class="clock">
    {#if landed === undefined}
      <button class="plain" onclick={() => (landed = now = Date.now())}>Landed now</button>
      <span class="quiet">starts the clock: the case keeps warming after you stop</span>
    {:else}
      <span class="time" role="timer">{clock}</span>
      <span class="quiet">since landing</span>
      <button class="plain" onclick={() => (landed = undefined)}>Stop</button>
    {/if}
  </div>
  <ol>
    {#each notes.readings as row, k (row.place)}
      <li>
        <label for="t{k}">{row.place}</label>
        <span class="cell">
          <input
            id="t{k}"
            inputmode="decimal"
            bind:value={row.value}
            oninput={() => typed(k)}
            aria-label="{row.place}, {unitLabel(row.unit)}"
          />
          <span class="unit">{unitLabel(row.unit)}</span>
        </span>
        <span class="cell">
          <input
            class="minutes"
            inputmode="decimal"
            bind:value={row.minutes}
            oninput={ontouch}
            aria-label="{row.place}, minutes after landing"
          />
          <span class="unit">min after</span>
        </span>
      </li>
    {/each}
  </ol>
</section>

<style>
  h2 {
    margin: 0 0 0.3rem;
  }
  .clock {
    display: flex;
    align-items: center;
    gap: 0.7rem;
    min-height: calc(var(--target) + 4px);
    font-size: 0.9rem;
  }
  .time {
    font-size: 2rem;
    font-weight: 300;
    font-stretch: 75%;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    display: grid;
    grid-template-columns: minmax(6rem, 1fr) auto auto;
    gap: 0.8rem;
    align-items: center;
    border-bottom: 1px solid var(--hair);
    min-height: calc(var(--target) + 2px);
  }
  .cell {
    display: flex;
    align-items: baseline;
  }
  input {
    width: 4.2rem;
    min-height: var(--target);
    font-size: 1.15rem;
    font-weight: 600;
    text-align: right;
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
    padding: 0 0.2rem;
  }
  .minutes {
    width: 3.2rem;
    font-weight: 400;
  }
</style>
