<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import type { Trim, TrimKnob } from '$lib/api/client';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { type ChangeValue, DraftState } from '$lib/state/draft.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import Asks from '$lib/ui/Asks.svelte';
  import DraftBar from '$lib/ui/DraftBar.svelte';
  import Knob from '$lib/ui/Knob.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import { choice, link } from '$lib/ui/theme';
  import Verdict from '$lib/ui/Verdict.svelte';
  import Wait from '$lib/ui/Wait.svelte';
  import { fromSi, toSi, units } from '$lib/units/units.svelte';

  import Curve from './Curve.svelte';
  import Drawing from './Drawing.svelte';
  import Plan from './Plan.svelte';
  import Rules from './Rules.svelte';
  import Signs from './Signs.svelte';
  import { begin, knobSpec, quantity, si } from './trim';
  import { TrimState } from './trim.svelte';

  let measure = $state('speed');
  let rules = $state(false);
  const draft = new DraftState();
  const trim = new TrimState();

  // Reaches outside: a new address asks the server for its setup.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'trim') void open(id);
  });
  async function open(id: number): Promise<void> {
    await Promise.all([draft.load(id), trim.load(id)]);
    here.boatId = draft.setup?.boat_id;
  }
  $effect(() => {
    here.trimmed = trim.told?.next !== null && trim.told !== undefined;
  });
  async function adopt(): Promise<void> {
    const adopted = await draft.adopt();
    if (!adopted) return;
    await boathouse.refresh();
    go(pathTo('trim', adopted.id));
  }
  function pull(path: string, value: number): void {
    const unit = (draft.now && quantity(draft.now.document, path)?.unit) ?? 'm';
    draft.change(path, { value: Number(fromSi(value, unit).toPrecision(6)), unit, source: 'typed' } as ChangeValue);
  }
  function tryAll(changes: NonNullable<Trim['next']>['changes']): void {
    for (const change of changes) draft.change(change.path, change.value as ChangeValue);
  }

  function safeOf(one: TrimKnob, unit: string): [number, number] | undefined {
    return one.safe ? (one.safe.map((v) => fromSi(v, unit)) as [number, number]) : undefined;
  }
  function switched(one: Trim['switches'][number]): string {
    return String(draft.changes[one.path] ?? one.value);
  }

  const told = $derived(trim.told);
  const known = $derived(told?.knobs.filter((k) => draft.now && quantity(draft.now.document, k.path)) ?? []);
  const unknown = $derived(told?.knobs.filter((k) => draft.now && !quantity(draft.now.document, k.path)) ?? []);
  const knob = $derived(told?.knobs.find((k) => k.path === trim.path));
  const curve = $derived(knob?.curves.find((c) => c.measure === measure) ?? knob?.curves[0]);
  const RISKS = ['Blow-over', 'Torque', 'Porpoising', 'Hop'];
  const dangers = $derived(
    draft.now?.forecast.dangers.filter((d) => RISKS.some((risk) => d.title.startsWith(risk))) ?? [],
  );
  const nextAt = $derived.by(() => {
    const change = told?.next?.changes.find((c) => c.path === knob?.path);
    return change && typeof change.value !== 'string' && curve?.measure === 'speed' ? toSi(change.value) : undefined;
  });
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Trim` : 'Trim'} · Kunstflug</title></svelte:head>

{#if draft.failed || trim.problem}
  <Notice kind="problem">
    {(draft.failed ?? trim.problem)?.message}
    <Button color="alternative" onclick={() => here.setupId && open(here.setupId)}>Try again</Button>
  </Notice>
{:else if draft.setup && draft.now && draft.base && told}
  {@const now = draft.now}
  {@const base = draft.base}
  <div class="flex flex-wrap items-baseline gap-4">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker setup={draft.setup} mark="trim" onchanged={() => open(draft.setup?.id ?? 0)} />
    <p class="m-0">
      <b data-testid="speed">{units.text(now.forecast.point.speed_mps.value, 'speed', 1)}</b>
      {#if draft.dirty}<span class="quiet">saved: {units.text(base.forecast.point.speed_mps.value, 'speed', 1)}</span
        >{/if}
    </p>
  </div>
  {#if draft.problem}<Notice kind="problem">{draft.problem.message}</Notice>{/if}
  <div class="grid gap-x-10 gap-y-6 xl:grid-cols-[minmax(0,1fr)_24rem]">
    <div class="min-w-0 max-xl:order-2">
      <Drawing
        document={now.document}
        saved={draft.setup.document}
        sizes={told.sizes}
        forecast={now.forecast}
        onpull={pull}
      />
      <Plan
        document={now.document}
        saved={draft.setup.document}
        sizes={told.sizes}
        forecast={now.forecast}
        onpull={pull}
      />
      <dl class="mt-2 mb-0 grid grid-cols-[repeat(auto-fit,minmax(15rem,1fr))] gap-x-8 gap-y-2">
        {#each dangers as danger (danger.title)}
          <div>
            <dt class="flex items-baseline gap-3 font-semibold">{danger.title} <Verdict verdict={danger.verdict} /></dt>
            <dd class="m-0 text-sm">{danger.sentence}</dd>
          </div>
        {/each}
      </dl>
      {#if told.by_practice.length}
        <p class="mt-2 mb-0 text-sm">
          <b class="font-semibold">By practice only.</b>
          {told.by_practice.map((one) => one.words).join(' ')}
        </p>
      {/if}
      {#if told.turn}<p class="mt-2 mb-0 text-sm"><b class="font-semibold">In a turn.</b> {told.turn.words}</p>{/if}
      <h2 class="mt-6 mb-1">Knobs</h2>
      <div class="grid grid-cols-[repeat(auto-fill,minmax(12rem,1fr))] gap-x-6 gap-y-2">
        {#each known as one (one.path)}
          {@const spec = knobSpec(one, now.document, draft.setup.document)}
          {#if spec}
            <div title={one.measured_by}>
              <Knob
                label={spec.label}
                value={spec.value}
                tried={draft.changes[one.path]}
                saved={spec.saved}
                reach={spec.reach}
                step={spec.step}
                allowed={spec.allowed}
                safe={safeOf(one, quantity(now.document, one.path)?.unit ?? one.unit)}
                onpull={(value) => draft.change(one.path, value)}
              />
              {#if draft.changes[one.path] && one.bound_to}<p class="m-0 text-[0.82rem] text-ochre">
                  {one.bound_to}
                </p>{/if}
            </div>
          {/if}
        {/each}
      </div>
      <div class="mt-3 flex flex-wrap gap-x-6 gap-y-2">
        {#each told.switches as one (one.path)}
          <label class="flex items-baseline gap-2 text-[0.84rem] text-ink-2"
            >{one.label}
            <Select
              size="sm"
              items={Object.entries(one.options).map(([value, name]) => ({ value, name }))}
              value={switched(one)}
              onchange={(e) => draft.change(one.path, (e.currentTarget as HTMLSelectElement).value)}
              placeholder=""
            /></label
          >
        {/each}
      </div>
      {#if unknown.length}
        <p class="mt-3 mb-0 text-sm">
          Not written down yet:
          {#each unknown as one, k (one.path)}{k ? ', ' : ''}<Button
              class={[link, 'text-sm']}
              title={one.measured_by}
              onclick={() => draft.change(one.path, begin(one) as ChangeValue)}>{one.label.toLowerCase()}</Button
            >{/each}. Tap one and set it to what you measure.
        </p>
      {/if}
      {#if knob && curve}
        <h2 class="mt-6 mb-1">What the runs say</h2>
        <div class="mb-1 flex flex-wrap gap-1" role="group" aria-label="Knob">
          {#each told.knobs.filter((k) => k.curves.length) as one (one.path)}
            <Button class={choice} aria-pressed={one.path === knob.path} onclick={() => (trim.path = one.path)}
              >{one.label}</Button
            >
          {/each}
        </div>
        {#if knob.curves.length > 1}
          <div class="mb-1 flex flex-wrap gap-1" role="group" aria-label="Measure">
            {#each knob.curves as one (one.measure)}
              <Button class={choice} aria-pressed={one === curve} onclick={() => (measure = one.measure)}
                >{one.words}</Button
              >
            {/each}
          </div>
        {/if}
        <Curve {knob} {curve} at={si(now.document, knob.path)} next={nextAt} />
      {/if}
      {#if told.settings.length > 1}
        <section>
          <h2 class="mt-4 mb-1">Known settings</h2>
          <ul class="m-0 list-none p-0">
            {#each told.settings as one (one.setup_id)}
              <li class="grid grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-4 border-t border-hair py-1">
                <span>
                  {#if one.setup_id === draft.setup.id}<b>{one.name}</b> <span class="quiet">on the sheet</span>
                  {:else}<a href={pathTo('trim', one.setup_id)}>{one.name}</a>
                    <span class="quiet text-sm"
                      >{one.changes.map((c) => `${c.label.toLowerCase()} ${c.words}`).join(', ')}</span
                    >{/if}
                  {#if one.seen.length}<span class="text-sm text-ochre">{one.seen.join(', ')}</span>{/if}
                </span>
                <span class="whitespace-nowrap"
                  ><b>{units.text(one.speed_mps, 'speed', 1)}</b>
                  <span class="quiet text-sm">{one.runs} {one.runs === 1 ? 'run' : 'runs'}</span></span
                >
              </li>
            {/each}
          </ul>
        </section>
      {/if}
      <section class="mt-4">
        <h2 class="mb-1">Next setting <Asks of="trim.curve" /></h2>
        {#if told.next}
          <p class="m-0">
            <b>{told.next.words}</b>
            {#if told.next.changes.length}
              {told.next.changes.map((c) => `${c.label} ${c.words}`).join(', ')}
              <Button color="alternative" onclick={() => told.next && tryAll(told.next.changes)}>Set it</Button>
            {/if}
          </p>
          <p class="m-0 max-w-[70ch] text-sm">{told.next.why}</p>
        {:else}
          <p class="quiet m-0 max-w-[70ch]">
            Write down where its knobs stand and log a run with a speed. Then the next setting worth trying stands here.
          </p>
        {/if}
      </section>
    </div>
    <div class="min-w-0 max-xl:order-1">
      <Signs
        {told}
        seen={trim.seen ?? told.seen}
        ontap={(sign) => trim.tap(sign)}
        onrules={() => (rules = true)}
        ontry={(answer) => answer.change && draft.change(answer.change.path, answer.change.value as ChangeValue)}
      />
    </div>
  </div>
  <p class="quiet mt-6 max-w-[80ch] text-[0.85rem]">{told.caution}</p>
  <Rules bind:open={rules} onchanged={() => trim.again()} />
  <DraftBar match={draft} onadopt={adopt} />
{:else}
  <Wait>Loading the boat…</Wait>
{/if}
