<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import ButtonGroup from 'flowbite-svelte/ButtonGroup.svelte';

  import { aim, type Duty } from '$lib/state/aim.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { choice } from '$lib/ui/theme';
  import { units } from '$lib/units/units.svelte';

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
  /** Straight water in metres or feet; nothing typed means nobody said. */
  function pond(event: Event): void {
    const typed = (event.currentTarget as HTMLInputElement).value.trim().replace(',', '.');
    const metres = Number(typed) / water.factor;
    if (typed === '') set({ pond_m: null });
    else if (metres >= 5 && metres <= 2000) set({ pond_m: Math.round(metres * 10) / 10 });
  }
  const water = $derived(units.unit('distance'));
</script>

<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[0.92rem]">
  <ButtonGroup aria-label="Duty">
    {#each KINDS as [kind, words] (kind)}
      <Button aria-pressed={aim.duty.kind === kind} onclick={() => set({ kind })} class={choice}>{words}</Button>
    {/each}
  </ButtonGroup>
  {#if aim.duty.kind === 'passes'}
    <Small unit="passes" value={aim.duty.passes} onchange={(e) => number(e, 'passes', 1, 30)} />
    <Small label="of" unit="s" value={aim.duty.pass_s} onchange={(e) => number(e, 'pass_s', 0.5, 120)} />
    <Small label="cool-down" unit="s between" value={aim.duty.cool_s} onchange={(e) => number(e, 'cool_s', 0, 300)} />
    <Small
      label="straight water"
      unit={water.unit}
      placeholder="any"
      value={aim.duty.pond_m === null ? '' : Math.round(aim.duty.pond_m * water.factor)}
      onchange={pond}
    />
  {:else}
    <Small unit="minutes" value={aim.duty.minutes} onchange={(e) => number(e, 'minutes', 0.2, 30)} />
  {/if}
</div>
