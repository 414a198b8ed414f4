<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Pond } from '$lib/api/client';
  import Small from '$lib/ui/Small.svelte';
  import { link } from '$lib/ui/theme';
  import { typed, typedNumber } from '$lib/ui/typed';
  import { day, today } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  /** What was read of a pond's water, and the next reading. */
  let { pond, writes, onput }: { pond: Pond; writes: boolean; onput: (water: Pond['water']) => Promise<boolean> } =
    $props();

  let on = $state(today());
  let read = $state<number | undefined>();
  const unit = $derived(units.unit('temperature'));
  const celsius = $derived(read === undefined ? undefined : (read - unit.offset) / unit.factor);
  const possible = $derived(celsius !== undefined && celsius >= 0 && celsius <= 40 && /^\d{4}-\d{2}-\d{2}$/.test(on));

  async function add(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    if (celsius === undefined || !possible) return;
    const one = { on, celsius: Math.round(celsius * 10) / 10 };
    if (await onput([...pond.water.filter((r) => r.on !== on), one])) read = undefined;
  }
</script>

{#if pond.water.length}
  <ul class="m-0 mt-1 flex list-none flex-wrap gap-x-5 p-0 text-[0.92rem]">
    {#each pond.water as one (one.on)}
      <li>
        {day(one.on)}: <b>{units.text(one.celsius, 'temperature', 0)}</b>
        {#if writes}<Button
            class={[link, 'min-h-(--target) min-w-(--target)']}
            aria-label="Delete the reading of {day(one.on)}"
            onclick={() => onput(pond.water.filter((r) => r.on !== one.on))}>×</Button
          >{/if}
      </li>
    {/each}
  </ul>
{:else}
  <p class="quiet m-0 mt-1">
    Nothing read yet: this is an average pond. A reading in spring and one in summer say most.
  </p>
{/if}
{#if writes}
  <form class="mt-1 flex flex-wrap items-baseline gap-x-4" onsubmit={add}>
    <Small label="water on" type="date" value={on} onchange={(e) => (on = typed(e))} />
    <Small
      unit={unit.unit}
      ariaLabel="Water, {unit.unit}"
      value={read ?? ''}
      oninput={(e) => (read = typedNumber(e))}
    />
    <Button type="submit" color="alternative" disabled={!possible}>Add the reading</Button>
  </form>
{/if}
