<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import ButtonGroup from 'flowbite-svelte/ButtonGroup.svelte';

  import { api, ask, type Problem, type SetupView } from '$lib/api/client';
  import { aim } from '$lib/state/aim.svelte';
  import { pack } from '$lib/offline/pack.svelte';
  import { here } from '$lib/state/here.svelte';
  import Asks from '$lib/ui/Asks.svelte';
  import DutyForm from '$lib/ui/DutyForm.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import Shore from '$lib/ui/Shore.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { choice, link } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';
  import { clock } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import Checks from './Checks.svelte';
  import DayPlan from './DayPlan.svelte';
  import { DayState, LaunchState, type Waves } from './launch.svelte';
  import PassLine from './PassLine.svelte';

  const launch = new LaunchState();
  const day = new DayState();
  let setup = $state.raw<SetupView | undefined>();
  let failed = $state<Problem | undefined>();
  let drawing = $state(false);

  // Reaches outside: a new address asks the server for its setup.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'launch') void open(id);
  });
  async function open(id: number): Promise<void> {
    failed = undefined;
    try {
      setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: id } } }));
      here.boatId = setup.boat_id;
      await aim.load(setup.boat_id).catch(() => undefined);
      await Promise.all([launch.load(id), day.load(launch.day)]);
      void pack.take(id);
    } catch (error) {
      failed = error as Problem;
    }
  }
  $effect(() => {
    here.ready = told !== undefined && told.phases.slice(0, 3).every((p) => p.checks.every((c) => c.done));
  });

  const told = $derived(launch.told);
  const WORDS = { go: 'Go', wait: 'Wait', no: 'No' };
  const TONES = { go: 'text-water', wait: 'text-ochre', no: 'text-vermilion' };
  const WAVES: [Waves, string][] = [
    ['glass', 'flat'],
    ['ripples', 'ripples'],
    ['chop', 'chop'],
    ['waves', 'waves'],
  ];
  const wind = $derived(units.unit('wind'));
  const temperature = $derived(units.unit('temperature'));
  function blows(event: Event): void {
    const typed = Number((event.currentTarget as HTMLInputElement).value.replace(',', '.')) / wind.factor;
    if (typed >= 0 && typed <= 30) {
      launch.wind = typed;
      launch.again();
    }
  }
  function wet(event: Event): void {
    const text = (event.currentTarget as HTMLInputElement).value.trim().replace(',', '.');
    const celsius = (Number(text) - temperature.offset) / temperature.factor;
    if (text === '') launch.water = null;
    else if (celsius >= 0 && celsius <= 40) launch.water = celsius;
    else return;
    launch.again();
  }
  async function at(date: string): Promise<void> {
    if (!/^\d{4}-\d{2}-\d{2}$/.test(date)) return;
    launch.day = date;
    launch.again();
    await day.load(date);
  }
  function pond(metres: number): void {
    aim.duty = { ...aim.duty, pond_m: metres };
    void aim.save();
    launch.again();
  }
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Launch` : 'Launch'} · Kunstflug</title></svelte:head>

{#if failed || launch.problem}
  <Notice kind="problem">
    {(failed ?? launch.problem)?.message}
    <Button color="alternative" onclick={() => here.setupId && open(here.setupId)}>Try again</Button>
  </Notice>
{/if}
{#if setup && told}
  <div class="flex flex-wrap items-baseline gap-4">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker {setup} mark="launch" onchanged={() => open(setup?.id ?? 0)} />
    <Small
      label="day"
      type="date"
      value={launch.day}
      onchange={(e) => at((e.currentTarget as HTMLInputElement).value)}
    />
    <Button class={[link, 'print:hidden']} onclick={() => window.print()}>Print the sheet</Button>
    {#if pack.taken?.setupId === setup.id}
      <span class="quiet print:hidden" data-testid="pack"
        >On this device for the pond, as of {clock(pack.taken.at)}</span
      >
    {:else if pack.busy}
      <span class="quiet print:hidden">Taking it along for the pond…</span>
    {/if}
  </div>
  <div class="grid gap-x-10 gap-y-6 xl:grid-cols-[minmax(0,1fr)_26rem] xl:grid-rows-[auto_1fr]">
    <div class="min-w-0">
      <section aria-labelledby="word">
        <h2 id="word" class={['mt-2 mb-1 text-3xl', TONES[told.word]]}>{WORDS[told.word]}</h2>
        <ul class="m-0 list-none p-0">
          {#each told.said as one (one.words)}
            <li class="flex gap-3 border-t border-hair py-1">
              <b class={['w-10 flex-none font-semibold', TONES[one.word]]}>{WORDS[one.word].toLowerCase()}</b>
              <span>{one.words}.</span>
            </li>
          {/each}
        </ul>
        <div class="mt-2 flex flex-wrap items-baseline gap-x-5 gap-y-1 text-[0.92rem] print:hidden">
          <Small
            label="wind"
            unit={wind.unit}
            value={Number((launch.wind * wind.factor).toFixed(1))}
            onchange={blows}
          />
          <Small
            label="water"
            unit={temperature.unit}
            placeholder="–"
            value={launch.water === null
              ? ''
              : Number((launch.water * temperature.factor + temperature.offset).toFixed(0))}
            onchange={wet}
          />
          <ButtonGroup aria-label="Waves">
            {#each WAVES as [waves, words] (waves)}
              <Button
                class={choice}
                aria-pressed={launch.waves === waves}
                onclick={() => {
                  launch.waves = waves;
                  launch.again();
                }}>{words}</Button
              >
            {/each}
          </ButtonGroup>
          <Asks of="launch.word" />
        </div>
      </section>
      {#each told.asked as question (question)}
        <Notice kind="problem">{question}</Notice>
      {/each}
      <section class="mt-6">
        <h2 class="mb-1">The pass <Asks of="launch.pass" /></h2>
        <div class="print:hidden">
          <DutyForm onchange={() => launch.again()} />
          <ButtonGroup aria-label="Start" class="mt-1">
            {#each [['flying', false], ['standing', true]] as const as [words, standing] (words)}
              <Button
                class={choice}
                aria-pressed={launch.standing === standing}
                onclick={() => {
                  launch.standing = standing;
                  launch.again();
                }}>{words} start</Button
              >
            {/each}
          </ButtonGroup>
          {#if told.ponds.length && aim.duty.pond_m === null}
            <p class="mt-1 mb-0 text-sm">
              Run before:
              {#each told.ponds as one, k (one.run_id)}{k ? ', ' : ''}<Button
                  class={[link, 'text-sm']}
                  onclick={() => pond(one.length_m)}>{one.words}</Button
                >{/each}.
            </p>
          {/if}
          {#if drawing}
            <div class="mt-3">
              <Shore
                runId={told.ponds[0]?.run_id}
                on={launch.day}
                onuse={pond}
                onwater={(celsius) => {
                  launch.water = celsius;
                  launch.again();
                }}
              />
            </div>
          {:else}
            <Button class={[link, 'mt-1 text-sm']} onclick={() => (drawing = true)}>Draw the pond</Button>
          {/if}
        </div>
        {#if told.plan}
          <div class="mt-3"><PassLine plan={told.plan} pond={aim.duty.pond_m} /></div>
          {#each told.plan.words as words (words)}<p class="m-0 mt-1">{words}</p>{/each}
        {:else}
          <p class="quiet mt-2">No passes in this duty.</p>
        {/if}
      </section>
    </div>
    <div class="min-w-0 xl:row-span-2">
      <Checks
        phases={told.phases}
        done={(key, was) => launch.done(key, was)}
        ontick={(key, v) => launch.tick(key, v)}
      />
      {#each told.cautions as words (words)}<p class="quiet mt-2 text-[0.85rem]">{words}</p>{/each}
    </div>
    <div class="min-w-0"><DayPlan {day} setupId={setup.id} /></div>
  </div>
{:else if !failed && !launch.problem}
  <Wait>Looking at the boat…</Wait>
{/if}
