<script lang="ts">
  import { api, ask, Problem, type Answer, type Backward, type Forecast, type SetupView } from '$lib/api/client';
  import PowerChart from '$lib/charts/PowerChart.svelte';
  import { aim, type Lock } from '$lib/state/aim.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { keep } from '$lib/state/kept';
  import { Newest } from '$lib/state/newest';
  import DutyForm from '$lib/ui/DutyForm.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SchoolSwitch from '$lib/ui/SchoolSwitch.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import { toSi, trimmed, units } from '$lib/units/units.svelte';

  import Answers from './Answers.svelte';
  import { changesOf } from './aim';

  let setup = $state<SetupView | undefined>();
  let forecast = $state<Forecast | undefined>();
  let answer = $state<Backward | undefined>();
  let failed = $state<Problem | undefined>();
  let problem = $state<Problem | undefined>();
  let chosen = $state(0);
  let wish = $state('');

  const LOCKS: [Lock, string][] = [
    ['motor', 'Motor'],
    ['propeller', 'Propeller'],
    ['pack', 'Packs'],
  ];

  const newest = new Newest<object, Backward>(
    (body) => ask(api.POST('/api/backward', { body: body as never })),
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
      forecast = await ask(api.POST('/api/forecast', { body: setup.document }));
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
    });
  }
  function said(): void {
    void aim.save();
    work();
  }
  function wished(text: string): void {
    wish = text;
    const value = Number(text.replace(',', '.'));
    if (text.trim() === '') aim.wanted = undefined;
    else if (Number.isFinite(value) && value > 0) aim.wanted = { value, unit: wishUnit, source: 'typed' };
    else return;
    said();
  }
  function lock(part: Lock): void {
    aim.locked = aim.locked.includes(part) ? aim.locked.filter((p) => p !== part) : [...aim.locked, part];
    said();
  }
  function numberFrom(event: Event): number | undefined {
    const text = (event.currentTarget as HTMLInputElement).value.replace(',', '.').trim();
    const value = Number(text);
    return text === '' || !Number.isFinite(value) || value < 0 ? undefined : value;
  }
  function tryIt(found: Answer): void {
    if (!setup) return;
    keep(`draft.${setup.id}`, { changes: changesOf(found, setup.document, aim.locked), shelf: {} });
    go(pathTo('match', setup.id));
  }
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Aim` : 'Aim'} · Kunstflug</title></svelte:head>

{#if failed}
  <Notice kind="problem">
    {failed.message}
    <button class="plain" onclick={() => here.setupId && load(here.setupId)}>Try again</button>
  </Notice>
{:else if setup && forecast}
  <div class="title">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker {setup} mark="aim" onchanged={() => load(setup?.id ?? 0)} />
  </div>
  <div class="sheet">
    <section class="say">
      <h2>Goal</h2>
      <DutyForm onchange={work} />
      <label class="wish">
        <span>Target speed</span>
        <input
          inputmode="decimal"
          value={wish}
          placeholder={units.show(wantedMps, 'speed', 0).text}
          oninput={(e) => wished(e.currentTarget.value)}
        />
        <span class="unit">{aim.wanted?.unit ?? wishUnit}</span>
      </label>
      <label class="line">
        Full throttle for at least
        <input
          inputmode="decimal"
          value={aim.leastMinutes || ''}
          placeholder="any"
          onchange={(e) => {
            aim.leastMinutes = Math.min(numberFrom(e) ?? 0, 60);
            said();
          }}
        />
        minutes on one pack
      </label>
      <h2>Parts to keep</h2>
      <div class="locks" role="group" aria-label="Parts to keep">
        <span class="lock held">Hull</span>
        {#each LOCKS as [part, words] (part)}
          <button class="lock" aria-pressed={aim.locked.includes(part)} onclick={() => lock(part)}>{words}</button>
        {/each}
      </div>
      <h2>Limits used</h2>
      <SchoolSwitch onchange={work} />
      <h2>Other limits</h2>
      <div class="binds">
        <label
          >Budget <input
            inputmode="decimal"
            value={aim.budget ?? ''}
            onchange={(e) => {
              aim.budget = numberFrom(e);
              void aim.save();
            }}
          /></label
        >
        <label
          >Motor bay length, mm <input
            inputmode="decimal"
            value={aim.roomLength?.value ?? ''}
            onchange={(e) => {
              const value = numberFrom(e);
              aim.roomLength = value === undefined ? undefined : { value, unit: 'mm', source: 'measured' };
              void aim.save();
            }}
          /></label
        >
        <label
          >Max. all-up mass, g <input
            inputmode="decimal"
            value={aim.mostMass?.value ?? ''}
            onchange={(e) => {
              const value = numberFrom(e);
              aim.mostMass = value === undefined ? undefined : { value, unit: 'g', source: 'typed' };
              void aim.save();
            }}
          /></label
        >
      </div>
      {#if aim.problem}<Notice kind="problem">{aim.problem}</Notice>{/if}
    </section>
    <section class="answer">
      <h2>Shaft power needed at each speed</h2>
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
        <p class="quiet">Working out drives for this speed…</p>
      {/if}
      {#if problem}<Notice kind="problem">{problem.message}</Notice>{/if}
    </section>
  </div>
{:else}
  <p class="quiet">Loading…</p>
{/if}

<style>
  .title {
    display: flex;
    align-items: baseline;
    gap: 1rem;
    flex-wrap: wrap;
    margin-bottom: 0.6rem;
  }
  h2 {
    margin: 1.1rem 0 0.3rem;
  }
  h2:first-child {
    margin-top: 0;
  }
  .sheet {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.6fr);
    gap: 2.4rem;
  }
  .wish {
    display: flex;
    align-items: baseline;
    gap: 0.6rem;
    margin-top: 0.5rem;
  }
  .wish input {
    width: 8rem;
    font-size: 3.4rem;
    font-weight: 300;
    font-stretch: 72%;
    line-height: 1;
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
    padding: 0;
  }
  .wish .unit {
    font-size: 1.1rem;
  }
  .line {
    display: block;
    margin-top: 0.5rem;
    font-size: 0.92rem;
  }
  .line input,
  .binds input {
    width: 4rem;
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
    min-height: calc(var(--target) * 0.8);
    padding: 0 0.2rem;
  }
  .locks {
    display: flex;
    flex-wrap: wrap;
    gap: 0.35rem;
  }
  .lock {
    min-height: var(--target);
    display: inline-flex;
    align-items: center;
    padding: 0 0.7rem;
    border: 1px solid var(--rule);
  }
  .lock[aria-pressed='true'],
  .held {
    background: var(--ink);
    border-color: var(--ink);
    color: var(--paper);
  }
  .binds {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1.2rem;
    font-size: 0.9rem;
  }
  @media (max-width: 760px) {
    .sheet {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
