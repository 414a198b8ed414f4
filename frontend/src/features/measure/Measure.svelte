<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { onMount } from 'svelte';

  import Notice from '$lib/ui/Notice.svelte';
  import { tab } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import Wait from '$lib/ui/Wait.svelte';
  import { fromSi, trimmed, unitLabel } from '$lib/units/units.svelte';

  import { CONVERSIONS, converted } from './convert';
  import Drawing from './Drawing.svelte';
  import { BenchState, sure } from './measure.svelte';

  const bench = new BenchState();
  onMount(() => void bench.load());

  let conversion = $state('power');
  let amount = $state('1');
  let unit = $state('hp');
  const rows = $derived(converted(conversion, Number(amount.replace(',', '.')), unit));
  const shown = $derived.by(() => {
    if (!bench.result || !bench.instrument) return undefined;
    const { value, sd } = bench.result;
    const { unit } = bench.instrument;
    return sure(fromSi(value, unit), fromSi(value + sd, unit) - fromSi(value, unit));
  });
  const widest = $derived(bench.instrument?.readings.find((r) => r.key === bench.result?.widest)?.label ?? '');

  const pick =
    'min-h-[calc(var(--target)*0.85)] max-md:min-h-(--target) w-full justify-start border-0 border-l-4 border-l-transparent bg-transparent px-2 text-left font-normal text-ink hover:bg-sheet aria-pressed:border-l-water aria-pressed:bg-sheet aria-pressed:font-semibold aria-pressed:text-ink';
</script>

<svelte:head><title>Measure · Kunstflug</title></svelte:head>

<h1 class="mb-4">Measure</h1>
<div class="grid grid-cols-[15rem_minmax(0,1fr)] gap-10 max-md:grid-cols-[minmax(0,1fr)] max-md:gap-4">
  <nav aria-label="Instruments">
    <h2 class="mt-5 mb-1.5 border-b border-ink pb-0.5 first:mt-0">Instruments</h2>
    {#each bench.instruments as one (one.key)}
      <Button aria-pressed={bench.key === one.key} onclick={() => bench.use(one.key)} class={pick}>{one.title}</Button>
    {/each}
    <h2 class="mt-5 mb-1.5 border-b border-ink pb-0.5 first:mt-0">Find</h2>
    {#each bench.finders as one (one.key)}
      <Button aria-pressed={bench.key === `find-${one.key}`} onclick={() => bench.use(`find-${one.key}`)} class={pick}
        >{one.title}</Button
      >
    {/each}
    <h2 class="mt-5 mb-1.5 border-b border-ink pb-0.5 first:mt-0">Convert</h2>
    <Button aria-pressed={bench.key === 'convert'} onclick={() => bench.use('convert')} class={pick}
      >Power, heat, length, speed, torque</Button
    >
  </nav>
  <section aria-live="polite">
    {#if bench.key === 'convert'}
      <h2 class="text-[1.35rem] m-0">Convert</h2>
      <div class="tabs" role="group" aria-label="Kind">
        {#each Object.keys(CONVERSIONS) as kind (kind)}
          <Button
            aria-pressed={conversion === kind}
            onclick={() => {
              conversion = kind;
              unit = CONVERSIONS[kind]?.[0] ?? '';
            }}
            class={tab}>{kind}</Button
          >
        {/each}
      </div>
      <p class="my-3 flex items-baseline gap-3">
        <Input inputmode="decimal" aria-label="Amount" bind:value={amount} class="w-32! text-[1.6rem]" />
        <Select placeholder="" aria-label="Unit" bind:value={unit}
          >{#each CONVERSIONS[conversion] ?? [] as name (name)}<option value={name}>{unitLabel(name)}</option
            >{/each}</Select
        >
      </p>
      <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-xl max-w-80">
        {#each rows as [name, value] (name)}<dt>{name}</dt>
          <dd class="text-right font-medium">{Number.isFinite(value) ? trimmed(value) : '–'}</dd>{/each}
      </dl>
    {:else if bench.tool}
      {@const tool = bench.instrument ?? bench.finder}
      <div class="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-8 max-md:grid-cols-[minmax(0,1fr)] max-md:gap-4">
        <div>
          <h2 class="text-[1.35rem] m-0">{tool?.title}</h2>
          <p>{tool?.how}</p>
          <form onsubmit={(e) => e.preventDefault()} class="grid gap-2">
            {#each bench.tool.readings as r (r.key)}
              <Label class="grid grid-cols-[1fr_9.5rem] items-baseline text-ink"
                >{r.label}
                <span class="flex items-baseline"
                  ><Input
                    inputmode="decimal"
                    value={bench.typed[r.key] ?? ''}
                    oninput={(e) => bench.read(r.key, typed(e))}
                    class="w-26!"
                  /><span class="unit">{unitLabel(r.unit)}</span></span
                ></Label
              >
            {/each}
          </form>
        </div>
        <div>
          <Drawing name={bench.key} si={bench.si} />
          {#if bench.instrument}<p class="italic text-[1.05rem]">{bench.instrument.equation}</p>{/if}
        </div>
      </div>
      {#if bench.problem}<Notice kind="problem">{bench.problem.message}</Notice>{/if}
      {#if bench.instrument && shown !== undefined}
        <p
          class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-t border-t-ink pt-2.5 mt-3 mb-1.5"
          data-testid="result"
        >
          <span class="text-[3.6rem] font-light font-stretch-[75%] leading-none">{shown[0]}</span><span
            class="unit -ms-2 text-xl">{unitLabel(bench.instrument.unit)}</span
          >
          <span class="text-xl">± {shown[1]}</span>
          {#if widest}<span class="quiet">mostly from “{widest}”</span>{/if}
        </p>
        {#if bench.instrument.writes.length}
          <p>
            {#if bench.written}<b>{bench.written}.</b>{:else}
              <Label class="inline-flex items-baseline gap-1.5"
                >Save to
                <Select placeholder="" value="" onchange={(e) => void bench.write(Number(typed(e)))}>
                  <option value="">a part…</option>
                  {#each bench.takers as part (part.id)}<option value={String(part.id)}>{part.kind} {part.name}</option
                    >{/each}
                </Select></Label
              >
              <span class="quiet">saved as measured, with its uncertainty</span>
            {/if}
          </p>
        {/if}
        {#if bench.instrument.caution}<p class="caution">{bench.instrument.caution}</p>{/if}
        <p class="quiet">Source: {bench.instrument.source}.</p>
      {:else if bench.finder && bench.found}
        <ul class="list-none px-0 pt-2.5 pb-0 my-3 border-t border-t-ink grid gap-1.5">
          {#each bench.found as one (one.words)}<li>{one.words}</li>
          {:else}<li>{bench.finder.nothing}</li>{/each}
        </ul>
      {/if}
    {:else if bench.problem}<Notice kind="problem"
        >{bench.problem.message}
        <Button color="alternative" onclick={() => void bench.load()}>Try again</Button></Notice
      >
    {:else}<Wait>Loading instruments…</Wait>{/if}
  </section>
</div>
