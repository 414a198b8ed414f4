<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import {
    api,
    ask,
    Problem,
    type Answer,
    type Backward,
    type Forecast,
    type Schemas,
    type SetupView,
  } from '$lib/api/client';
  import PowerChart from '$lib/charts/PowerChart.svelte';
  import { account } from '$lib/state/account.svelte';
  import { aim, type Lock } from '$lib/state/aim.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { keep } from '$lib/state/kept';
  import { Newest } from '$lib/state/newest';
  import Asks from '$lib/ui/Asks.svelte';
  import DutyForm from '$lib/ui/DutyForm.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SchoolSwitch from '$lib/ui/SchoolSwitch.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { chip } from '$lib/ui/theme';
  import { typed, typedAs, typedNumber } from '$lib/ui/typed';
  import Wait from '$lib/ui/Wait.svelte';
  import { amountOf } from '$lib/units/amount';
  import { toSi, trimmed, units } from '$lib/units/units.svelte';

  import { changesOf } from './aim';
  import Answers from './Answers.svelte';

  let setup = $state<SetupView | undefined>();
  let forecast = $state<Forecast | undefined>();
  let answer = $state<Backward | undefined>();
  let failed = $state<Problem | undefined>();
  let problem = $state<Problem | undefined>();
  let chosen = $state(0);
  let wish = $state('');
  let classes = $state.raw<string[]>([]);

  // Reaches outside: a club has classes.
  $effect(() => {
    if (account.seen.name)
      void ask(api.GET('/api/club')).then(
        (club) => (classes = club.classes.map((c) => c.name)),
        () => undefined,
      );
  });

  const LOCKS: [Lock, string][] = [
    ['motor', 'Motor'],
    ['propeller', 'Propeller'],
    ['pack', 'Packs'],
  ];

  const newest = new Newest<Schemas['WishIn'], Backward>(
    (body) => ask(api.POST('/api/backward', { params: { query: { boat: setup?.boat_id } }, body })),
    (found) => {
      answer = found;
      chosen = 0;
      problem = undefined;
    },
    (error) => (problem = error as Problem),
  );

  async function load(id: number): Promise<void> {
    failed = undefined;
    try {
      setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: id } } }));
      here.boatId = setup.boat_id;
      await aim.load(setup.boat_id);
      forecast = await ask(
        api.POST('/api/forecast', { params: { query: { boat: setup.boat_id } }, body: setup.document }),
      );
      wish = aim.wanted ? trimmed(aim.wanted.value) : '';
      work();
    } catch (error) {
      failed = error as Problem;
    }
  }
  // Reaches outside: a new address asks the server for its setup.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'aim') void load(id);
  });

  const today = $derived(forecast?.runs ? (forecast.point.speed_mps.value ?? undefined) : undefined);
  /** Where nobody wished yet, a tenth more than today. */
  const wantedMps = $derived(aim.wanted ? toSi(aim.wanted) : today !== undefined ? today * 1.1 : 20);
  const wishUnit = $derived(units.system === 'metric' ? 'km/h' : 'mph');

  function work(): void {
    if (!setup) return;
    newest.ask({
      document: setup.document,
      duty: $state.snapshot(aim.duty),
      schools: $state.snapshot(aim.schools),
      wanted_mps: wantedMps,
      locked: $state.snapshot(aim.locked),
      least_minutes: aim.leastMinutes,
      most_mass_kg: aim.mostMass ? toSi(aim.mostMass) : null,
      ...aim.raced,
    });
  }
  function said(): void {
    void aim.save();
    work();
  }
  function wished(text: string): void {
    wish = text;
    const value = amountOf(text, wishUnit);
    if (text.trim() === '') aim.wanted = undefined;
    else if (value !== undefined && value > 0) aim.wanted = { value, unit: wishUnit, source: 'typed' };
    else return;
    said();
  }
  function lock(part: Lock): void {
    aim.locked = aim.locked.includes(part) ? aim.locked.filter((p) => p !== part) : [...aim.locked, part];
    said();
  }
  function tryIt(found: Answer): void {
    if (!setup) return;
    keep(`draft.${setup.id}`, changesOf(found));
    go(pathTo('match', setup.id));
  }
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Aim` : 'Aim'} · Kunstflug</title></svelte:head>

{#if failed}
  <Notice kind="problem">
    {failed.message}
    <Button color="alternative" onclick={() => here.setupId && load(here.setupId)}>Try again</Button>
  </Notice>
{:else if setup && forecast}
  <div class="flex items-baseline gap-4 flex-wrap mb-2.5">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker {setup} mark="aim" onchanged={() => load(setup?.id ?? 0)} />
  </div>
  <div class="grid grid-cols-[minmax(0,1fr)_minmax(0,1.6fr)] gap-9.5 max-md:grid-cols-[minmax(0,1fr)]">
    <section>
      <h2 class="mb-1">Goal</h2>
      <DutyForm onchange={work} />
      <Label class="mt-2 flex items-baseline gap-2.5">
        <span class="whitespace-nowrap">Target speed</span>
        <Input
          inputmode="decimal"
          value={wish}
          placeholder={units.show(wantedMps, 'speed', 0).text}
          oninput={(e) => wished(typed(e))}
          class="w-32! bg-transparent px-0 text-[3.4rem] leading-none font-light font-stretch-[72%] placeholder:text-[3.4rem]"
        />
        <span class="unit text-lg">{aim.wanted?.unit ?? wishUnit}</span>
      </Label>
      <div class="mt-2">
        <Small
          label="Full throttle for at least"
          unit="minutes on one pack"
          value={aim.leastMinutes || ''}
          placeholder="any"
          onchange={(e) => {
            aim.leastMinutes = Math.min(typedNumber(e) ?? 0, 60);
            said();
          }}
        />
      </div>
      <h2 class="mt-4.5 mb-1">Parts to keep</h2>
      <div class="flex flex-wrap gap-1.5" role="group" aria-label="Parts to keep">
        <span class="inline-flex min-h-(--target) items-center bg-ink px-3 text-paper">Hull</span>
        {#each LOCKS as [part, words] (part)}
          <Button aria-pressed={aim.locked.includes(part)} onclick={() => lock(part)} class={chip}>{words}</Button>
        {/each}
      </div>
      <h2 class="mt-4.5 mb-1">Limits used</h2>
      <SchoolSwitch onchange={work} />
      {#if classes.length || aim.className}
        <Label class="mt-4.5 flex items-baseline gap-2.5">
          <span class="text-[1.1rem] font-semibold text-ink">Class</span>
          <Select
            placeholder=""
            value={aim.className}
            onchange={(e) => {
              aim.className = e.currentTarget.value;
              said();
            }}
          >
            <option value="">none</option>
            {#each classes as one (one)}<option value={one}>{one}</option>{/each}
          </Select>
        </Label>
        {#if answer?.breaks}<Notice kind="problem">Not in the class: {answer.breaks}.</Notice>{/if}
        {#if answer?.noise}
          {@const noise = answer.noise}
          <p class="mt-1.5 mb-1 max-w-[52ch] text-[0.92rem]">
            {noise.measured ? 'About' : 'Roughly'} <b>{Math.round(noise.level_db)} dB(A)</b> at
            {units.text(noise.at_m, 'distance')}, 80 % between {Math.round(noise.low_db)} and {Math.round(
              noise.high_db,
            )}; the class allows {trimmed(noise.limit_db)}.
            {noise.measured ? '' : 'Measure it once: drive lines differ more than the rule behind this number.'}
            <Asks of="aim.noise" />
          </p>
          <Small
            label="Measured"
            unit="dB(A)"
            wide
            value={aim.noise?.level_db ?? ''}
            onchange={(e) => {
              const level = typedNumber(e);
              aim.noise = level === undefined ? undefined : { level_db: level, law_db: noise.law_db };
              said();
            }}
          />
        {/if}
      {/if}
      <h2 class="mt-4.5 mb-1">Other limits</h2>
      <div class="flex flex-wrap gap-x-5 gap-y-1.5">
        <Small
          label="Budget"
          unit={units.currency}
          wide
          value={aim.budget ?? ''}
          onchange={(e) => {
            aim.budget = typedNumber(e);
            void aim.save();
          }}
        />
        <Small
          label="Motor bay length"
          unit="mm"
          wide
          value={aim.roomLength?.value ?? ''}
          onchange={(e) => {
            aim.roomLength = typedAs(e, 'mm', 'measured');
            said();
          }}
        />
        <Small
          label="Max. all-up mass"
          unit="g"
          wide
          value={aim.mostMass?.value ?? ''}
          onchange={(e) => {
            aim.mostMass = typedAs(e, 'g', 'typed');
            said();
          }}
        />
      </div>
      {#if aim.problem}<Notice kind="problem">{aim.problem}</Notice>{/if}
    </section>
    <section>
      <h2 class="mb-1">Shaft power needed at each speed <Asks of="aim.power" /></h2>
      {#if answer}
        <PowerChart
          speedMps={answer.speed_mps}
          powerW={answer.power_w}
          now={today !== undefined
            ? { speed: today, power: forecast.point.shaft_power_w.value ?? 0, name: 'today' }
            : undefined}
          {wantedMps}
          answers={answer.answers}
          {chosen}
        />
        <Answers {answer} bind:chosen ontry={tryIt} room={aim.roomLength} />
      {:else if !problem}
        <Wait>Working out drives for this speed…</Wait>
      {/if}
      {#if problem}<Notice kind="problem">{problem.message}</Notice>{/if}
    </section>
  </div>
{:else}
  <Wait>Loading…</Wait>
{/if}
