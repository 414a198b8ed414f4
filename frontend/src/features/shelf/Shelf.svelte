<script lang="ts">
  import { onMount } from 'svelte';

  import { api, ask, type SetupView, type ShelfPart } from '$lib/api/client';
  import { aim } from '$lib/state/aim.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { putIntoDraft } from '$lib/state/draft.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';

  import Candidates from './Candidates.svelte';
  import PartDetail from './PartDetail.svelte';
  import { DRIVE_KINDS, MOST_COMPARED, ShelfState, sizes } from './shelf.svelte';

  const shelf = new ShelfState();
  const kinds = $derived(boathouse.vocabulary.kinds.filter((k) => k.shelf));
  let find = $state<HTMLInputElement | undefined>();
  let partId = $state<number | undefined>();
  const part = $derived(shelf.parts.find((p) => p.id === partId));
  let kind = $state('motor');
  let open = $state(false);
  let boatId = $state(0);
  let setup = $state.raw<SetupView | undefined>();

  onMount(() => {
    void shelf.load();
    find?.focus();
  });
  $effect(() => {
    const first = here.boat ?? boathouse.boats[0];
    if (!boatId && first) boatId = first.id;
  });
  const boat = $derived(boathouse.boats.find((b) => b.id === boatId));

  async function compare(): Promise<void> {
    if (!boat) return;
    setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: boat.setup_id } } }));
    await aim.load(boat.id).catch(() => undefined);
    await shelf.compare(setup.document, boat.id);
  }
  /** Into the draft of the boat's newest setup; Match shows at once what it does. */
  function put(one: ShelfPart): void {
    if (!boat) return;
    putIntoDraft(boat.setup_id, one);
    go(pathTo('match', boat.setup_id));
  }
  function show(one: ShelfPart | undefined, of: string): void {
    partId = one?.id;
    kind = of;
    shelf.problem = undefined;
    open = true;
  }
</script>

<svelte:head><title>Shelf · Kunstflug</title></svelte:head>

<div class="head">
  <h1>Shelf</h1>
  <label class="find"
    ><span class="visually-hidden">Find by size or words</span><input
      bind:this={find}
      bind:value={shelf.words}
      placeholder="Find: 36 mm, 1.4, worn, Dipper…"
    /></label
  >
  <div class="files">
    <select
      aria-label="Put on the shelf"
      value=""
      onchange={(e) => (show(undefined, e.currentTarget.value), (e.currentTarget.value = ''))}
    >
      <option value="">Add a part…</option>
      {#each kinds as one (one.kind)}<option value={one.kind}>{one.label}</option>{/each}
    </select>
    <a href="/api/parts.csv" download>Export CSV</a>
    <label class="in"
      >Import CSV<input
        type="file"
        accept=".csv,text/csv"
        class="visually-hidden"
        onchange={(e) => {
          const file = e.currentTarget.files?.[0];
          if (file) void shelf.importCsv(file);
          e.currentTarget.value = '';
        }}
      /></label
    >
  </div>
</div>
<div class="tabs" role="group" aria-label="Kinds">
  <button class="tab" aria-pressed={shelf.kind === ''} onclick={() => (shelf.kind = '')}>All</button>
  {#each kinds.filter((k) => shelf.counts[k.kind]) as one (one.kind)}
    <button class="tab" aria-pressed={shelf.kind === one.kind} onclick={() => (shelf.kind = one.kind)}
      >{one.label} <span class="quiet">{shelf.counts[one.kind]}</span></button
    >
  {/each}
</div>
{#if shelf.problem && !open}<Notice kind="problem"
    >{shelf.problem.message}{#if shelf.problem.line}
      (line {shelf.problem.line}; nothing was taken){/if}
    <button class="plain" onclick={() => void shelf.load()}>Load again</button></Notice
  >{/if}
{#if shelf.phase === 'loading'}
  <p class="quiet">Loading the shelf…</p>
{:else if !shelf.parts.length}
  <Notice>The shelf is empty. Add a new boat, add parts one by one, or import a CSV.</Notice>
{:else}
  {#if shelf.due.length && !shelf.words && !shelf.kind}
    <p class="due">
      Due: {#each shelf.due as one, k (one.id)}{k ? ' · ' : ''}<button class="link" onclick={() => show(one, one.kind)}
          >{one.name}</button
        >, {one.due}{/each}
    </p>
  {/if}
  <table>
    <thead
      ><tr
        ><th><span class="visually-hidden">compare</span></th><th>Part</th><th>State</th><th class="n">Pieces</th><th
          class="n">Price</th
        ><th class="n">Runs</th><th>Boat</th><th>Sizes</th></tr
      ></thead
    >
    <tbody>
      {#each shelf.shown as one (one.id)}
        <tr class:gone={one.state === 'dead' || one.state === 'lost'} class:at={shelf.picked.includes(one.id)}>
          <td>
            {#if DRIVE_KINDS.includes(one.kind) && one.kind !== 'hull'}
              <input
                type="checkbox"
                aria-label="compare {one.name}"
                checked={shelf.picked.includes(one.id)}
                disabled={!shelf.picked.includes(one.id) && shelf.picked.length >= MOST_COMPARED}
                onchange={() => shelf.pick(one.id)}
              />
            {/if}
          </td>
          <td
            ><button class="part" onclick={() => show(one, one.kind)}
              ><span class="quiet">{boathouse.kind(one.kind)}</span> <b>{one.name}</b></button
            ></td
          >
          <td class="state">{one.state}</td>
          <td class="n">{one.pieces}</td>
          <td class="n">{one.price ?? '–'}</td>
          <td class="n">{one.runs || '–'}</td>
          <td>{one.boats.join(', ')}</td>
          <td class="sizes">{one.record.died_of ? `died: ${String(one.record.died_of)}` : sizes(one)}</td>
        </tr>
      {:else}
        <tr><td colspan="8" class="quiet">Nothing matches “{shelf.words}”.</td></tr>
      {/each}
    </tbody>
  </table>
{/if}
{#if shelf.picked.length}
  <div class="bar" role="region" aria-label="Compare">
    <span>{shelf.picked.length} of {MOST_COMPARED} to compare in</span>
    <select aria-label="Boat" value={String(boatId)} onchange={(e) => (boatId = Number(e.currentTarget.value))}>
      {#each boathouse.boats as one (one.id)}<option value={String(one.id)}>{one.name}</option>{/each}
    </select>
    <button class="plain strong" onclick={() => void compare()} disabled={shelf.comparing || !boat}
      >{shelf.comparing ? 'Comparing…' : 'Compare'}</button
    >
    <button class="plain" onclick={() => ((shelf.picked = []), (shelf.candidates = []))}>none</button>
  </div>
{/if}
{#if shelf.candidates.length}<Candidates candidates={shelf.candidates} boat={boat?.name ?? ''} />{/if}
<PartDetail {shelf} {part} {kind} fields={boathouse.vocabulary.fields} boat={boat?.name} onput={put} bind:open />

<style>
  .head {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1.5rem;
    align-items: baseline;
  }
  .find {
    flex: 1 1 16rem;
  }
  .find input {
    width: 100%;
    min-height: var(--target);
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
    font-size: 1.05rem;
  }
  .files {
    display: flex;
    gap: 1rem;
    align-items: baseline;
  }
  .in {
    color: var(--water);
    text-decoration: underline;
    cursor: pointer;
  }
  .in:focus-within {
    outline: 2.5px solid var(--water);
  }
  .due {
    border-left: 3px solid var(--ochre-mark);
    padding-left: 0.6rem;
  }
  input[type='checkbox'] {
    width: 1.25rem;
    height: 1.25rem;
    accent-color: var(--ink);
  }
  .part {
    text-align: left;
    min-height: calc(var(--target) * 0.9);
  }
  .part:hover b {
    color: var(--water);
    text-decoration: underline;
  }
  .sizes {
    font-size: 0.82rem;
    color: var(--ink-2);
    font-stretch: 82%;
    max-width: 34rem;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .state {
    white-space: nowrap;
  }
  .gone .part b,
  .gone .state {
    text-decoration: line-through;
    color: var(--ink-2);
  }
  .bar {
    position: sticky;
    bottom: 0;
    display: flex;
    flex-wrap: wrap;
    gap: 0.5rem 1rem;
    align-items: center;
    background: var(--sheet);
    border-top: 1px solid var(--ink);
    margin: 0.8rem -1.5rem 0;
    padding: 0.6rem 1.5rem;
  }
  @media (max-width: 760px) {
    th:nth-child(4),
    td:nth-child(4),
    th:nth-child(5),
    td:nth-child(5),
    th:nth-child(7),
    td:nth-child(7),
    .sizes,
    th:nth-child(8) {
      display: none;
    }
    .bar {
      bottom: 60px;
    }
  }
</style>
