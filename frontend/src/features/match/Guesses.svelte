<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import type { Forecast, Quantity, SetupDocument } from '$lib/api/client';
  import { link } from '$lib/ui/theme';
  import { amountOf } from '$lib/units/amount';
  import { trimmed, unitLabel } from '$lib/units/units.svelte';

  import { measurable } from '$lib/state/measure';

  /** What the forecast stands on that nobody measured, widest first: measure the top one first. */
  let {
    forecast,
    document,
    onmeasure,
  }: { forecast: Forecast; document: SetupDocument; onmeasure: (path: string, value: Quantity) => void } = $props();

  let open = $state('');
  let typed = $state('');

  let all = $state(false);
  const OF: [string, string][] = [
    ['speed_mps', 'speed'],
    ['current_a', 'current'],
    ['rpm', 'rpm'],
    ['electrical_power_w', 'power'],
    ['thrust_n', 'thrust'],
    ['motor_efficiency', 'motor'],
  ];
  let of = $state('speed_mps');
  const part = (g: Forecast['guesses'][number]) => g.shares[of] ?? 0;
  const guesses = $derived([...forecast.guesses].filter((g) => part(g) > 0.002).sort((a, b) => part(b) - part(a)));
  const shown = $derived(all ? guesses : guesses.slice(0, 6));
  const SMALL: Record<string, [number, string]> = {
    ohm: [1000, 'mΩ'],
    m2: [1e4, 'cm²'],
    m: [1000, 'mm'],
    kg: [1000, 'g'],
  };

  function number(value: number, unit: string): string {
    const [factor, label] = SMALL[unit] ?? [1, unitLabel(unit)];
    return `${trimmed(Number((value * factor).toPrecision(3)))} ${label}`.trim();
  }
</script>

<section>
  <h2 class="mb-1.5">
    What widens the band of
    <Select
      placeholder=""
      aria-label="Headline"
      bind:value={of}
      classes={{ select: 'min-h-[calc(var(--target)*0.8)] bg-transparent text-[1em] font-semibold' }}
    >
      {#each OF as [key, words] (key)}<option value={key}>{words}</option>{/each}
    </Select>
  </h2>
  {#if !guesses.length}
    <p class="quiet">No guesses: every number was given.</p>
  {:else}
    <ol class="list-none m-0 p-0 grid gap-2">
      {#each shown as g (g.parameter)}
        <li>
          <div class="flex justify-between gap-2.5 text-[0.92rem]">
            <span
              >{g.label}
              <span class="font-semibold whitespace-nowrap" class:guess={g.source === 'guessed'}
                >{number(g.value, g.unit)}</span
              ></span
            >
            <span class="font-semibold">{Math.round(part(g) * 100)}%</span>
          </div>
          <div class="rule h-1 bg-hair">
            <span class="block h-1 bg-water" style:width="{Math.max(part(g) * 100, 0.6)}%"></span>
          </div>
          <p class="m-0 text-xs text-ink-2 font-stretch-[85%]">
            {g.reason || 'known to a few percent'}
            {#if g.source === 'guessed' && measurable(g.parameter, document)}
              <Button
                aria-expanded={open === g.parameter}
                onclick={() => {
                  open = open === g.parameter ? '' : g.parameter;
                  typed = '';
                }}
                class={link}>Measured?<span class="visually-hidden"> {g.label}</span></Button
              >
            {/if}
          </p>
          {#if open === g.parameter}
            {@const field = measurable(g.parameter, document)}
            {#if field}
              <form
                class="typed flex gap-2 items-end text-[0.86rem]"
                onsubmit={(e) => {
                  e.preventDefault();
                  const value = amountOf(typed, field.unit);
                  if (value === undefined || value <= 0) return;
                  onmeasure(field.path, { value, unit: field.unit, source: 'measured' });
                  open = '';
                }}
              >
                <Label
                  >{field.label}, {unitLabel(field.unit)}
                  <Input inputmode="decimal" bind:value={typed} class="w-20!" /></Label
                >
                <Button type="submit" color="alternative">Use measured value</Button>
              </form>
            {/if}
          {/if}
        </li>
      {/each}
    </ol>
    {#if guesses.length > 6}
      <Button onclick={() => (all = !all)} class={link}>{all ? 'Largest only' : `All ${guesses.length}`}</Button>
    {/if}
  {/if}
  {#each forecast.caveats as caveat (caveat)}
    <p class="border-l-3 border-l-ochre-mark pl-2.5 text-[0.88rem] mt-2.5">{caveat}</p>
  {/each}
</section>
