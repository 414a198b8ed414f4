<script lang="ts">
  import { untrack } from 'svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';

  import type { Field, Quantity, ShelfPart } from '$lib/api/client';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import Entry from '$lib/ui/Entry.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { read, textOf } from '$lib/ui/partsheet';
  import { unitLabel } from '$lib/units/units.svelte';

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
      price: price.trim() === '' ? null : Number(price.replace(',', '.')),
      pieces: Number(pieces) || 0,
      note,
    };
    const done = part ? await shelf.change(part, { document: body, ...more }) : (await shelf.add(kind, body)) && true;
    if (done) open = false;
  }
</script>

<Modal bind:open title={part ? part.name : `New part: ${boathouse.kind(kind)}`} size="lg" class="sheet-modal">
  {#if shelf.problem}<Notice kind="problem">{shelf.problem.message}</Notice>{/if}
  {#if part}
    <div class="life">
      <label
        >State <select value={part.state} onchange={(e) => void shelf.change(part, { state: e.currentTarget.value })}>
          {#each STATES as state (state)}<option>{state}</option>{/each}
        </select></label
      >
      <span>{part.runs} runs, {part.hours.toFixed(1)} h</span>
      {#if part.boats.length}<span>in {part.boats.join(', ')}</span>{/if}
      {#if part.due}<span class="due">{part.due}</span>{/if}
      {#if part.record.died_of}<span class="stop">Failed: {String(part.record.died_of)}</span>{/if}
    </div>
  {/if}
  <div class="fields">
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
        required={field.required}
        oninput={(text) => say(field, text)}
      />
    {/each}
    {#if part}
      <Entry label="Price" value={price} empty="not set" oninput={(text) => (price = text)} />
      <Entry label="Pieces" value={pieces} oninput={(text) => (pieces = text)} />
      <Entry label="Note" value={note} wide oninput={(text) => (note = text)} />
    {/if}
  </div>
  {#if part}
    <h3>History</h3>
    <ul>
      {#each part.events as event (event.id)}
        <li><b>{event.kind}</b> {new Date(event.happened_at).toLocaleDateString('en-GB')} · {event.words}</li>
      {:else}<li class="quiet">No entries yet</li>{/each}
    </ul>
    <form
      onsubmit={(e) => {
        e.preventDefault();
        void shelf.event(part.id, wordsKind, words).then((ok) => ok && (words = ''));
      }}
    >
      <select aria-label="What happened" bind:value={wordsKind}>
        <option value="service">Service</option>
        <option value="damage">Damage</option>
        <option value="repair">Repair</option>
        <option value="died">Failed</option>
        <option value="note">Note</option>
      </select>
      <input aria-label="In words" placeholder="What happened, and how" bind:value={words} />
      <button class="plain">Add entry</button>
    </form>
  {/if}
  <div class="do">
    {#if part && !part.boats.length}<button
        class="plain"
        onclick={() => void shelf.remove(part.id).then((ok) => ok && (open = false))}>Move to bin</button
      >{/if}
    {#if part && boat && DRIVE_KINDS.includes(kind) && !GONE.includes(part.state)}
      <button class="plain" onclick={() => onput(part)}>Put it into {boat}</button>
    {/if}
    <button class="plain strong" onclick={() => void save()} disabled={Object.keys(wrong).length > 0}>Save</button>
  </div>
</Modal>

<style>
  .life {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem 1.2rem;
    align-items: center;
    margin-bottom: 0.6rem;
  }
  .due {
    color: var(--ochre);
    font-weight: 500;
  }
  .fields {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(13rem, 1fr));
    gap: 0 1.5rem;
  }
  ul {
    list-style: none;
    margin: 0 0 0.4rem;
    padding: 0;
  }
  form,
  .do {
    display: flex;
    flex-wrap: wrap;
    gap: 0.5rem;
  }
  .do {
    justify-content: flex-end;
    margin-top: 0.8rem;
  }
  form input {
    flex: 1 1 12rem;
  }
  form input,
  select {
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: var(--sheet);
    color: var(--ink);
    min-height: var(--target);
    padding: 0 1.6rem 0 0.4rem;
  }
  h3 {
    margin: 0.6rem 0 0.2rem;
  }
</style>
