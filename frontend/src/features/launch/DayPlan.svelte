<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import type { DayInput } from '$lib/api/client';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { toasts } from '$lib/state/toasts.svelte';
  import Asks from '$lib/ui/Asks.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { link } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';

  import DayLine from './DayLine.svelte';
  import { clock, type DayState, minutesOf } from './launch.svelte';

  /** What is charged and run when, re-planned as it is changed. */
  let { day, setupId }: { day: DayState; setupId: number } = $props();

  const number = (event: Event): number => Number((event.currentTarget as HTMLInputElement).value.replace(',', '.'));
  function time(event: Event, set: (minute: number) => void): void {
    const minute = minutesOf((event.currentTarget as HTMLInputElement).value);
    if (minute !== undefined) set(minute);
  }
  function within(event: Event, low: number, high: number, set: (value: number) => void): void {
    const value = number(event);
    if (Number.isFinite(value) && value >= low && value <= high) set(value);
  }
  async function save(): Promise<void> {
    if (await day.save()) toasts.say('The day is saved.');
  }
  /** The pack that a setup runs with already, else the first. */
  function packOf(input: DayInput, id: number): string {
    return input.runs.find((r) => r.setup_id === id)?.pack ?? input.packs[0]?.name ?? '';
  }
  const packs = $derived(day.input?.packs.map((p) => ({ value: p.name, name: p.name })) ?? []);
  const boats = $derived(
    boathouse.boats.filter((b) => !b.archived).map((b) => ({ value: String(b.setup_id), name: b.name })),
  );
</script>

<section>
  <h2 class="mb-1">The day <Asks of="launch.day" /></h2>
  {#if day.problem}<Notice kind="problem">{day.problem.message}</Notice>{/if}
  {#if day.input && day.plan}
    {@const input = day.input}
    {@const plan = day.plan}
    <div class="flex flex-wrap items-baseline gap-x-5 gap-y-1 text-[0.92rem]">
      <Small
        label="charging from"
        value={clock(input.starts_min)}
        onchange={(e) => time(e, (m) => day.change((i) => (i.starts_min = m)))}
      />
      <Small
        label="on the water from"
        value={clock(input.water_min)}
        onchange={(e) => time(e, (m) => day.change((i) => (i.water_min = m)))}
      />
      <Small
        label="between runs"
        unit="min"
        value={input.hands_min}
        onchange={(e) => within(e, 0, 240, (v) => day.change((i) => (i.hands_min = v)))}
      />
      <span>done at <b>{clock(plan.end_min)}</b></span>
    </div>
    <div class="mt-3">
      <DayLine
        {plan}
        starts={input.starts_min}
        water={input.water_min}
        onlater={(at, minute) => day.change((i) => i.runs[at] && (i.runs[at].not_before_min = minute))}
      />
    </div>
    {#each plan.words as words (words)}<p class="m-0 mt-1">{words}</p>{/each}
    <ol class="mt-3 mb-0 list-none p-0">
      {#each input.runs as run, at (at)}
        {@const placed = plan.runs[at]}
        <li class="flex flex-wrap items-center gap-x-4 gap-y-0.5 border-t border-hair py-1">
          <span class="w-4 font-semibold">{at + 1}</span>
          <span class="min-w-44 flex-1">
            <b class="font-semibold">{clock(placed?.start_min)}</b>
            {placed?.boat ?? ''} <span class="quiet text-sm">{placed?.setup ?? ''}, {placed?.words ?? ''}</span>
          </span>
          <Select
            size="sm"
            items={packs}
            value={run.pack}
            aria-label="Pack of run {at + 1}"
            placeholder=""
            onchange={(e) =>
              day.change((i) => i.runs[at] && (i.runs[at].pack = (e.currentTarget as HTMLSelectElement).value))}
          />
          <Small
            label="longer by"
            unit="min"
            ariaLabel="Run {at + 1} took longer, minutes"
            value={run.late_min}
            onchange={(e) => within(e, 0, 600, (v) => day.change((i) => i.runs[at] && (i.runs[at].late_min = v)))}
          />
          <span class="flex gap-3 print:hidden">
            <Button class={link} disabled={at === 0} aria-label="Run {at + 1} earlier" onclick={() => day.move(at, -1)}
              >earlier</Button
            >
            <Button
              class={link}
              disabled={at === input.runs.length - 1}
              aria-label="Run {at + 1} later"
              onclick={() => day.move(at, 1)}>later</Button
            >
            {#if run.not_before_min}
              <Button
                class={link}
                aria-label="Run {at + 1} at any hour"
                onclick={() => day.change((i) => i.runs[at] && (i.runs[at].not_before_min = 0))}>any hour</Button
              >
            {/if}
            <Button
              class={link}
              aria-label="Run {at + 1}: take out"
              onclick={() => day.change((i) => i.runs.splice(at, 1))}>take out</Button
            >
          </span>
        </li>
      {/each}
    </ol>
    <div class="mt-2 flex flex-wrap items-baseline gap-4 print:hidden">
      <Button
        color="alternative"
        disabled={!input.packs.length}
        onclick={() =>
          day.change((i) =>
            i.runs.push({ setup_id: setupId, pack: packOf(i, setupId), late_min: 0, not_before_min: 0 }),
          )}>Add a run of this boat</Button
      >
      {#if boats.length > 1}
        <Select
          size="sm"
          items={boats}
          value=""
          placeholder="Add a run of another…"
          aria-label="Add a run of another boat"
          onchange={(e) => {
            const id = Number((e.currentTarget as HTMLSelectElement).value);
            if (id)
              day.change((i) => i.runs.push({ setup_id: id, pack: packOf(i, id), late_min: 0, not_before_min: 0 }));
          }}
        />
      {/if}
      <Button onclick={save} disabled={!day.dirty && day.view?.saved}>Save the day</Button>
    </div>
    <h3 class="mt-5 mb-1 text-base print:hidden">Packs and chargers</h3>
    <ul class="m-0 list-none p-0 print:hidden">
      {#each input.packs as pack, at (at)}
        <li class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-t border-hair py-1">
          <span class="min-w-40 font-semibold">{pack.name}</span>
          <span class="quiet text-sm">{pack.cells} cells, {Math.round(pack.capacity_ah * 1000)} mAh</span>
          <Small
            label="full to"
            unit="%"
            ariaLabel="{pack.name} full to"
            value={Math.round(100 * pack.charge)}
            onchange={(e) => within(e, 0, 100, (v) => day.change((i) => i.packs[at] && (i.packs[at].charge = v / 100)))}
          />
          <Small
            label="at most"
            unit="C"
            ariaLabel="{pack.name} charged at most at"
            value={pack.most_c}
            onchange={(e) => within(e, 0.1, 15, (v) => day.change((i) => i.packs[at] && (i.packs[at].most_c = v)))}
          />
          <Button
            class={link}
            onclick={() =>
              day.change((i) => {
                const names = new Set(i.packs.map((p) => p.name));
                let n = 2;
                while (names.has(`${pack.name} no. ${n}`)) n += 1;
                i.packs.splice(at + 1, 0, { ...pack, name: `${pack.name} no. ${n}` });
              })}>another like it</Button
          >
        </li>
      {/each}
      {#each input.chargers as charger, at (at)}
        <li class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-t border-hair py-1">
          <span class="min-w-40 font-semibold">{charger.name}</span>
          <Small
            label="at most"
            unit="A"
            ariaLabel="{charger.name} at most, A"
            value={charger.most_current_a ?? ''}
            placeholder="any"
            onchange={(e) =>
              within(e, 0.1, 100, (v) => day.change((i) => i.chargers[at] && (i.chargers[at].most_current_a = v)))}
          />
          <Small
            label="and"
            unit="W"
            ariaLabel="{charger.name} at most, W"
            value={charger.power_w ?? ''}
            placeholder="any"
            onchange={(e) =>
              within(e, 5, 5000, (v) => day.change((i) => i.chargers[at] && (i.chargers[at].power_w = v)))}
          />
          {#if input.chargers.length < 6}
            <Button
              class={link}
              onclick={() =>
                day.change((i) => i.chargers.push({ ...charger, name: `charger ${i.chargers.length + 1}` }))}
              >another like it</Button
            >
          {/if}
          {#if input.chargers.length > 1}
            <Button class={link} onclick={() => day.change((i) => i.chargers.splice(at, 1))}>take out</Button>
          {/if}
        </li>
      {/each}
    </ul>
    {#each plan.cautions as words (words)}<p class="quiet mt-2 text-[0.85rem]">{words}</p>{/each}
  {:else if !day.problem}
    <Wait>Planning the day…</Wait>
  {/if}
</section>
