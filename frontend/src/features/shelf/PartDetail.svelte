<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import Timeline from 'flowbite-svelte/Timeline.svelte';
  import TimelineItem from 'flowbite-svelte/TimelineItem.svelte';
  import { untrack } from 'svelte';

  import type { Field, Quantity, ShelfPart } from '$lib/api/client';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import Entry from '$lib/ui/Entry.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { read, textOf } from '$lib/ui/partsheet';
  import { amountOf } from '$lib/units/amount';
  import { day } from '$lib/units/day';
  import { unitLabel, units } from '$lib/units/units.svelte';

  import PackLife from './PackLife.svelte';
  import { DRIVE_KINDS, GONE, STATES, type ShelfState } from './shelf.svelte';

  /** One part: its sizes, its state, its life; or a new one of a kind. */
  let {
    shelf,
    part,
    kind,
    fields,
    boat,
    onput,
    open = $bindable(false),
  }: {
    shelf: ShelfState;
    part: ShelfPart | undefined;
    kind: string;
    fields: Field[];
    /** Name of the boat that the part can be put into. */
    boat: string | undefined;
    onput: (part: ShelfPart) => void;
    open?: boolean;
  } = $props();

  const LIFE: Record<string, string> = {
    service: 'Service',
    damage: 'Damage',
    repair: 'Repair',
    died: 'Failed',
    note: 'Note',
  };
  let document = $state<Record<string, unknown>>({});
  let typed = $state<Record<string, string>>({});
  let wrong = $state<Record<string, string>>({});
  let price = $state('');
  let pieces = $state('1');
  let note = $state('');
  let name = $state('');
  let words = $state('');
  let wordsKind = $state('service');

  // Another part is another form; what is typed stays while the same one is noted, worn or repaired.
  const id = $derived(part?.id);
  $effect(() => {
    void id;
    if (open) untrack(begin);
  });
  function begin(): void {
    document = { ...(part?.document ?? {}) };
    typed = {};
    wrong = {};
    name = String(part?.document.name ?? '');
    price = part?.price === null || part?.price === undefined ? '' : String(part.price);
    pieces = String(part?.pieces ?? 1);
    note = String(part?.record.note ?? '');
    words = '';
  }
  const chosen = (event: Event): string => (event.target as HTMLSelectElement).value;
  const own = $derived(fields.filter((f) => f.part === kind));

  function say(field: Field, text: string): void {
    typed = { ...typed, [field.key]: text };
    const found = read(field, text, document[field.key]);
    wrong = Object.fromEntries(Object.entries(wrong).filter(([key]) => key !== field.key));
    if (found.error) wrong = { ...wrong, [field.key]: found.error };
    else document = { ...document, [field.key]: found.value };
  }
  async function save(): Promise<void> {
    const missing = own.filter((f) => f.required && !document[f.key]);
    if (missing.length) {
      wrong = { ...wrong, ...Object.fromEntries(missing.map((f) => [f.key, 'needed'])) };
      return;
    }
    const body = { ...document, name };
    const more = {
      price: amountOf(price) ?? null,
      pieces: amountOf(pieces) ?? 0,
      note,
    };
    const done = part ? await shelf.change(part, { document: body, ...more }) : (await shelf.add(kind, body)) && true;
    if (done) open = false;
  }
</script>

<Modal bind:open title={part ? part.name : `New part: ${boathouse.kind(kind)}`} size="lg">
  {#if shelf.problem}<Notice kind="problem">{shelf.problem.message}</Notice>{/if}
  {#if part}
    <div class="flex flex-wrap gap-x-5 gap-y-1 items-center mb-2.5">
      <Label
        >State <Select
          placeholder=""
          value={part.state}
          onchange={(e) => void shelf.change(part, { state: chosen(e) })}
        >
          {#each STATES as state (state)}<option value={state}>{state}</option>{/each}
        </Select></Label
      >
      <span>{part.runs} runs, {part.hours.toFixed(1)} h</span>
      {#if part.boats.length}<span>in {part.boats.join(', ')}</span>{/if}
      {#if part.due}<span class="text-ochre font-medium">{part.due}</span>{/if}
      {#if part.record.died_of}<span class="stop">Failed: {String(part.record.died_of)}</span>{/if}
    </div>
  {/if}
  {#if part?.kind === 'pack' && open}<PackLife id={part.id} />{/if}
  <div class="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-x-6 gap-y-0">
    <Entry label="Name" value={name} wide oninput={(text) => (name = text)} />
    {#each own as field (field.key)}
      {@const raw = document[field.key]}
      <Entry
        label={field.label}
        unit={unitLabel((raw as Quantity | null)?.unit ?? field.unit ?? '')}
        help={field.help}
        value={typed[field.key] ?? textOf(raw)}
        error={wrong[field.key]}
        options={field.options}
        fallback={field.default}
        estimated={field.estimated}
        required={field.required}
        oninput={(text) => say(field, text)}
      />
    {/each}
    {#if part}
      <Entry label="Price" unit={units.currency} value={price} empty="not set" oninput={(text) => (price = text)} />
      <Entry label="Pieces" estimated={false} value={pieces} oninput={(text) => (pieces = text)} />
      <Entry label="Note" value={note} wide oninput={(text) => (note = text)} />
    {/if}
  </div>
  {#if part}
    <h3 class="mt-2.5 mb-1">History</h3>
    {#if part.events.length}
      <Timeline class="ms-1.5 border-rule">
        {#each part.events as event (event.id)}
          <TimelineItem title="{LIFE[event.kind] ?? event.kind}, {day(event.happened_at)}" date="" class="mb-3">
            {event.words}
          </TimelineItem>
        {/each}
      </Timeline>
    {:else}
      <p class="quiet">No entries yet</p>
    {/if}
    <form
      onsubmit={(e) => {
        e.preventDefault();
        void shelf.event(part.id, wordsKind, words).then((ok) => ok && (words = ''));
      }}
      class="flex flex-wrap gap-2"
    >
      <Select placeholder="" aria-label="What happened" bind:value={wordsKind}>
        {#each Object.entries(LIFE) as [kind, name] (kind)}<option value={kind}>{name}</option>{/each}
      </Select>
      <Input aria-label="In words" placeholder="What happened, and how" bind:value={words} class="flex-[1_1_12rem]" />
      <Button type="submit" color="alternative">Add entry</Button>
    </form>
  {/if}
  {#snippet footer()}
    {#if part && !part.boats.length}<Button
        color="alternative"
        onclick={() => void shelf.remove(part.id).then((ok) => ok && (open = false))}>Move to bin</Button
      >{/if}
    {#if part && boat && DRIVE_KINDS.includes(kind) && !GONE.includes(part.state)}
      <Button color="alternative" onclick={() => onput(part)}>Put it into {boat}</Button>
    {/if}
    <Button onclick={() => void save()} disabled={Object.keys(wrong).length > 0}>Save</Button>
  {/snippet}
</Modal>
