<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Field, HullType } from '$lib/api/client';
  import BoatOutline from '$lib/drawing/BoatOutline.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, pathTo } from '$lib/state/go';
  import Entry from '$lib/ui/Entry.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { amountOf } from '$lib/units/amount';
  import { toSi, unitLabel, units } from '$lib/units/units.svelte';

  import { BoatState, FIRST } from './boat.svelte';

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
  const type = $derived((boat.typed['hull.hull_type'] || 'mono') as HullType);
  const length = $derived(
    toSi({
      value: amountOf(boat.typed['hull.length'] ?? '', boat.unitOf('hull.length') || 'mm') || 620,
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
  import { lessonsOf } from '$lib/ui/lessons';
</script>

<svelte:head><title>New boat · Kunstflug</title></svelte:head>

<form onsubmit={save} novalidate>
  <div class="flex items-center gap-8 min-h-26 flex-wrap">
    <div class="max-md:hidden"><BoatOutline {type} lengthM={length} wide={220} /></div>
    <div class="flex-[1_1_22rem]" aria-live="polite">
      {#if boat.forecast?.runs}
        <span class="text-[4.4rem] font-light font-stretch-[72%] leading-[0.9]"
          >{units.show(boat.forecast.point.speed_mps.value, 'speed', 0).text}</span
        ><span class="unit">{units.unit('speed').unit}</span>
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
          {#if boat.forecast.known_runs}
            · <span data-testid="lessons">{lessonsOf(boat.forecast)}</span>
          {/if}
        </div>
      {:else if boat.forecast}
        <p class="my-1 max-w-[60ch] border-l-6 border-double border-l-vermilion pl-3">{boat.forecast.refusal}</p>
      {:else}
        <h1 class="text-[1.6rem] m-0">A new boat</h1>
        <p class="quiet my-1 max-w-[60ch]">
          Enter what is printed on the parts. Empty fields are estimated and marked as guesses.
          {#if left}<b>{left}</b> more {left === 1 ? 'number' : 'numbers'} needed for a forecast.{/if}
        </p>
      {/if}
    </div>
  </div>

  <div class="flex gap-5.5 flex-wrap mt-2.5 mb-4">
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

  <div class="grid grid-cols-[repeat(5,minmax(0,1fr))] border-t border-t-ink max-md:grid-cols-[minmax(0,1fr)]">
    {#each parts as part (part)}
      <fieldset
        class="m-0 min-w-0 border-l border-l-hair px-3.5 py-1.5 first:border-l-0 first:pl-0 max-md:border-l-0 max-md:border-b max-md:border-b-hair max-md:py-1.5 max-md:px-0"
      >
        <legend class="float-left mb-1 w-full p-0 font-semibold">{TITLES[part]}</legend>
        {#each [...fieldsOf(part, true), ...(more[part] ? fieldsOf(part, false) : [])] as field (field.key)}
          {@const path = `${part}.${field.key}`}
          <Entry
            label={field.label}
            unit={unitLabel(boat.unitOf(path))}
            help={field.help}
            options={field.options}
            fallback={field.default}
            estimated={field.estimated}
            required={field.required || field.key === 'pitch_ratio'}
            value={boat.typed[path] ?? ''}
            error={error(path)}
            oninput={(text) => boat.set(path, text)}
          />
        {/each}
        <Button
          aria-expanded={more[part] ?? false}
          onclick={() => (more[part] = !more[part])}
          class={[link, 'clear-both']}
        >
          {more[part] ? 'Fewer details' : 'More details'}<span class="visually-hidden"> about the {part}</span>
        </Button>
      </fieldset>
    {/each}
  </div>

  {#if boat.problem}<Notice kind="problem">{boat.problem.message}</Notice>{/if}
  <div class="flex items-center gap-4 mt-4">
    <Button type="submit" disabled={boat.saving}>{boat.saving ? 'Saving…' : 'Save boat'}</Button>
    {#if tried && left}<span class="stop">{left} {left === 1 ? 'number is' : 'numbers are'} still missing</span>{/if}
  </div>
</form>
