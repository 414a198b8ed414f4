<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Forecast } from '$lib/api/client';
  import { origin } from '$lib/state/origin.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  import Crossing from './Crossing.svelte';

  /** The answer: speed with its band, and the verdict; the saved value stays as a ghost. */
  let { forecast, ghost }: { forecast: Forecast; ghost?: Forecast | undefined } = $props();

  /** A number that can be asked: it looks like one until it is pointed at. */
  const asked =
    'inline min-h-0 border-0 bg-transparent p-0 text-[length:inherit] font-[inherit] text-ink hover:bg-transparent hover:text-water hover:underline';

  const speed = $derived(forecast.point.speed_mps);
  const shown = $derived(units.show(speed.value, 'speed', 0));
  const worst = $derived([...forecast.margins].filter((m) => m.verdict !== 'holds').sort((a, b) => b.use - a.use)[0]);
  const others = $derived([
    ['rpm loaded', units.text(forecast.point.rpm.value, 'rotation'), 'rpm'],
    [
      'of free',
      units.text((forecast.point.rpm.value ?? NaN) / (forecast.point.free_rpm.value ?? NaN), 'percent'),
      'free_rpm',
    ],
    ['slip', units.text(forecast.point.slip.value, 'percent'), 'slip'],
    ['current', units.text(forecast.point.current_a.value, 'current'), 'current_a'],
    ['power', units.text(forecast.point.electrical_power_w.value, 'power'), 'electrical_power_w'],
    ['thrust', units.text(forecast.point.thrust_n.value, 'force'), 'thrust_n'],
    ['propeller', units.text(forecast.point.propeller_efficiency.value, 'percent'), 'propeller_efficiency'],
    ['motor', units.text(forecast.point.motor_efficiency.value, 'percent'), 'motor_efficiency'],
  ] as const);
</script>

<section
  class="flex items-end flex-wrap gap-x-5 gap-y-1.5 min-h-21 xl:flex-nowrap"
  aria-live="polite"
  data-testid="headline"
>
  {#if forecast.runs}
    <div class="speed leading-[0.9] whitespace-nowrap">
      <Button
        class={[
          asked,
          'text-[5.2rem] leading-[0.9] font-light font-stretch-[72%] tracking-[-0.01em] max-md:text-[4.4rem]',
        ]}
        title="Where does this come from?"
        onclick={() => origin.ask('point.speed_mps')}><span data-testid="speed">{shown.text}</span></Button
      ><span class="unit text-xl">{shown.unit}</span>
    </div>
    <Crossing {forecast} {ghost} />
    <div class="grid gap-1 pb-1 flex-[1_1_10rem] max-w-120 min-w-0">
      <div class="band">
        80 % between <b>{units.show(speed.low, 'speed', 0).text}</b> and
        <b>{units.show(speed.high, 'speed', 0).text}</b>
        {#if ghost && ghost.point.speed_mps.value !== speed.value}
          <span class="text-ghost border-b-2 border-dashed border-b-ghost ml-3 whitespace-nowrap"
            >saved: {ghost.runs ? units.text(ghost.point.speed_mps.value, 'speed', 0) : 'does not run'}</span
          >
        {/if}
      </div>
      <div class="flex flex-wrap gap-x-2.5 gap-y-0.5 leading-[1.3]">
        <Verdict verdict={forecast.verdict} />
        <span class="text-ink-2 text-sm font-stretch-[88%]"
          >{worst ? worst.reason : 'Every limit holds at the forecast load'}</span
        >
      </div>
    </div>
    <dl
      class="grid grid-cols-[repeat(4,auto)] gap-x-4.5 gap-y-1 ml-auto mb-1 max-md:grid-cols-[repeat(2,1fr)] max-md:m-0 max-md:w-full"
    >
      {#each others as [name, text, key] (name)}
        <div class="flex justify-between gap-1.5 border-b border-hair whitespace-nowrap">
          <dt class="text-ink-2 text-[0.86rem] font-stretch-[80%]">{name}</dt>
          <dd class="m-0 font-medium text-[0.95rem]">
            <Button class={asked} title="Where does this come from?" onclick={() => origin.ask(`point.${key}`)}
              >{text}<span class="sr-only">, {name}: where does this come from?</span></Button
            >
          </dd>
        </div>
      {/each}
    </dl>
  {:else}
    <div class="refused max-w-[62ch] border-l-6 border-double border-l-vermilion pl-4" role="alert">
      <Verdict verdict={forecast.verdict} big />
      <p>{forecast.refusal}</p>
      {#if forecast.remedies.length}
        <p class="nearest">
          Closest change that works:
          {#each forecast.remedies as remedy, k (remedy.path)}{k ? '; ' : ' '}{remedy.sentence} at about {units.text(
              remedy.speed_mps,
              'speed',
              0,
            )}{/each}.
        </p>
      {:else}
        <p class="nearest">No single change of propeller, KV, cells or mass makes this drive run.</p>
      {/if}
    </div>
  {/if}
</section>
