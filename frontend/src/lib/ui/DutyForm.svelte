<script lang="ts">
  import { aim, type Duty } from '$lib/state/aim.svelte';

  /** The duty: what the boat is to do, in seconds and minutes. */
  let { onchange }: { onchange: () => void } = $props();

  const KINDS: [Duty['kind'], string][] = [
    ['passes', 'Speed passes'],
    ['lap_race', 'Lap race'],
    ['tub_test', 'Tub test'],
  ];
  function set(change: Partial<Duty>): void {
    aim.duty = { ...aim.duty, ...change };
    void aim.save();
    onchange();
  }
  function number(event: Event, key: 'passes' | 'pass_s' | 'cool_s' | 'minutes', low: number, high: number): void {
    const value = Number((event.currentTarget as HTMLInputElement).value.replace(',', '.'));
    if (Number.isFinite(value) && value >= low && value <= high) set({ [key]: value });
  }
</script>

<div class="duty">
  <div role="group" aria-label="Duty">
    {#each KINDS as [kind, words] (kind)}
      <button class="kind" aria-pressed={aim.duty.kind === kind} onclick={() => set({ kind })}>{words}</button>
    {/each}
  </div>
  {#if aim.duty.kind === 'passes'}
    <label
      ><input inputmode="numeric" value={aim.duty.passes} onchange={(e) => number(e, 'passes', 1, 30)} /> passes</label
    >
    <label
      >of <input inputmode="decimal" value={aim.duty.pass_s} onchange={(e) => number(e, 'pass_s', 0.5, 120)} /> s</label
    >
    <label
      >cool-down <input inputmode="decimal" value={aim.duty.cool_s} onchange={(e) => number(e, 'cool_s', 0, 300)} /> s between</label
    >
  {:else}
    <label
      ><input inputmode="decimal" value={aim.duty.minutes} onchange={(e) => number(e, 'minutes', 0.2, 30)} /> minutes</label
    >
  {/if}
</div>

<style>
  .duty {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.3rem 1rem;
    font-size: 0.92rem;
  }
  .kind {
    padding: 0 0.5rem;
    min-height: calc(var(--target) * 0.8);
    color: var(--ink-2);
    border-bottom: 2px solid transparent;
  }
  .kind[aria-pressed='true'] {
    color: var(--ink);
    font-weight: 600;
    border-bottom-color: var(--ink);
  }
  input {
    width: 3.2rem;
    text-align: right;
    font-weight: 600;
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
    padding: 0 0.2rem;
    min-height: calc(var(--target) * 0.75);
  }
</style>
