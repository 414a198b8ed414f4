<script lang="ts">
  import type { Field } from '$lib/api/client';
  import BoatOutline from '$lib/drawing/BoatOutline.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, pathTo } from '$lib/state/go';
  import Notice from '$lib/ui/Notice.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { toSi, unitLabel, units } from '$lib/units/units.svelte';

  import { BoatState, FIRST } from './boat.svelte';
  import Entry from '$lib/ui/Entry.svelte';

  const boat = new BoatState(
    () => boathouse.vocabulary.fields,
    () => units.system,
  );
  let more = $state<Record<string, boolean>>({});
  let tried = $state(false);

  const TITLES: Record<string, string> = {
    hull: 'Hull',
    pack: 'Pack',
    controller: 'Controller',
    motor: 'Motor',
    propeller: 'Propeller',
  };
  const parts = ['hull', 'pack', 'controller', 'motor', 'propeller'];

  function fieldsOf(part: string, first: boolean): Field[] {
    const named = FIRST[part] ?? [];
    const all = boathouse.vocabulary.fields.filter((f) => f.part === part);
    if (first) return named.map((key) => all.find((f) => f.key === key)).filter((f): f is Field => f !== undefined);
    return all.filter((f) => !named.includes(f.key));
  }
  // A draft from before a reload is computed as soon as the fields are known.
  $effect(() => {
    if (boathouse.state === 'ready') boat.recompute();
  });
  // No boat is on the sheet here.
  const type = $derived(boat.typed['hull.hull_type'] || 'mono');
  const length = $derived(
    toSi({
      value: Number((boat.typed['hull.length'] ?? '').replace(',', '.')) || 620,
      unit: boat.unitOf('hull.length') || 'mm',
    }),
  );
  const missing = $derived(new Set(boat.made.missing));
  const left = $derived(boat.made.missing.length);

  function error(path: string): string | undefined {
    if (boat.made.wrong[path]) return `allowed: ${boat.made.wrong[path]}`;
    if (boat.problem?.field === path || boat.problem?.field === `${path}.value`)
      return `allowed: ${boat.problem?.allowed}`;
    return tried && missing.has(path) ? 'still missing' : undefined;
  }

  async function save(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    tried = true;
    if (left || Object.keys(boat.made.wrong).length || !boat.typed.name?.trim()) return;
    const saved = await boat.save();
    if (!saved) return;
    await boathouse.refresh();
    go(pathTo('match', saved.id));
  }
</script>

<svelte:head><title>New boat · Kunstflug</title></svelte:head>

<form onsubmit={save} novalidate>
  <div class="head">
    <div class="drawn"><BoatOutline {type} lengthM={length} wide={220} /></div>
    <div class="answer" aria-live="polite">
      {#if boat.forecast?.runs}
        <span class="big">{units.show(boat.forecast.point.speed_mps.value, 'speed', 0).text}</span><span class="unit"
          >{units.unit('speed').unit}</span
        >
        <div>
          80 % between {units.show(boat.forecast.point.speed_mps.low, 'speed', 0).text} and {units.show(
            boat.forecast.point.speed_mps.high,
            'speed',
            0,
          ).text} ·
          {units.text(boat.forecast.point.current_a.value, 'current')} · {units.text(
            boat.forecast.point.rpm.value,
            'rotation',
          )}
          <Verdict verdict={boat.forecast.verdict} />
        </div>
      {:else if boat.forecast}
        <p class="refusal">{boat.forecast.refusal}</p>
      {:else}
        <h1>A new boat</h1>
        <p class="quiet">
          Enter what is printed on the parts. Empty fields are estimated and marked as guesses.
          {#if left}<b>{left}</b> more {left === 1 ? 'number' : 'numbers'} needed for a forecast.{/if}
        </p>
      {/if}
    </div>
  </div>

  <div class="name">
    <Entry
      label="Boat name"
      value={boat.typed.name ?? ''}
      error={tried && !boat.typed.name?.trim() ? 'at least one letter' : undefined}
      wide
      oninput={(text) => boat.set('name', text)}
    />
    <Entry
      label="All-up mass"
      unit={unitLabel(boat.unitOf('all_up_mass'))}
      value={boat.typed.all_up_mass ?? ''}
      error={error('all_up_mass')}
      help="ready to run, pack in"
      required
      oninput={(text) => boat.set('all_up_mass', text)}
    />
  </div>

  <div class="stations">
    {#each parts as part (part)}
      <fieldset>
        <legend>{TITLES[part]}</legend>
        {#each [...fieldsOf(part, true), ...(more[part] ? fieldsOf(part, false) : [])] as field (field.key)}
          {@const path = `${part}.${field.key}`}
          <Entry
            label={field.label}
            unit={unitLabel(boat.unitOf(path))}
            help={field.help}
            options={field.options}
            fallback={field.default}
            required={field.required || field.key === 'pitch_ratio'}
            value={boat.typed[path] ?? ''}
            error={error(path)}
            oninput={(text) => boat.set(path, text)}
          />
        {/each}
        <button
          type="button"
          class="more"
          aria-expanded={more[part] ?? false}
          onclick={() => (more[part] = !more[part])}
        >
          {more[part] ? 'less' : 'More details'}<span class="visually-hidden"> about the {part}</span>
        </button>
      </fieldset>
    {/each}
  </div>

  {#if boat.problem}<Notice kind="problem">{boat.problem.message}</Notice>{/if}
  <div class="do">
    <button class="plain strong" disabled={boat.saving}>{boat.saving ? 'Saving…' : 'Save boat'}</button>
    {#if tried && left}<span class="stop">{left} {left === 1 ? 'number is' : 'numbers are'} still missing</span>{/if}
  </div>
</form>

<style>
  .head {
    display: flex;
    align-items: center;
    gap: 2rem;
    min-height: 104px;
    flex-wrap: wrap;
  }
  .answer {
    flex: 1 1 22rem;
  }
  .big {
    font-size: 4.4rem;
    font-weight: 300;
    font-stretch: 72%;
    line-height: 0.9;
  }
  h1 {
    font-size: 1.6rem;
    margin: 0;
  }
  p {
    margin: 0.2rem 0;
    max-width: 60ch;
  }
  .refusal {
    border-left: 6px double var(--vermilion);
    padding-left: 0.8rem;
  }
  .name {
    display: flex;
    gap: 1.4rem;
    flex-wrap: wrap;
    margin: 0.6rem 0 1rem;
  }
  .stations {
    display: grid;
    grid-template-columns: repeat(5, minmax(0, 1fr));
    border-top: 1px solid var(--ink);
  }
  fieldset {
    border: 0;
    border-left: 1px solid var(--hair);
    margin: 0;
    padding: 0.4rem 0.9rem;
    min-width: 0;
  }
  fieldset:first-child {
    border-left: 0;
    padding-left: 0;
  }
  legend {
    font-weight: 600;
    float: left;
    width: 100%;
    padding: 0;
    margin-bottom: 0.3rem;
  }
  .more {
    clear: both;
    color: var(--water);
    text-decoration: underline;
    text-underline-offset: 2px;
    min-height: var(--target);
    font-size: 0.9rem;
    text-align: left;
  }
  .do {
    display: flex;
    align-items: center;
    gap: 1rem;
    margin-top: 1rem;
  }
  @media (max-width: 760px) {
    .stations {
      grid-template-columns: minmax(0, 1fr);
    }
    fieldset {
      border-left: 0;
      border-bottom: 1px solid var(--hair);
      padding: 0.4rem 0;
    }
    .drawn {
      display: none;
    }
  }
</style>
