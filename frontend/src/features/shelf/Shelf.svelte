<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { onMount } from 'svelte';

  import { api, ask, fileAt, type SetupView, type ShelfPart } from '$lib/api/client';
  import { aim } from '$lib/state/aim.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { putIntoDraft } from '$lib/state/draft.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link, row, tab } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import Wait from '$lib/ui/Wait.svelte';
  import { units } from '$lib/units/units.svelte';

  import Candidates from './Candidates.svelte';
  import PartDetail from './PartDetail.svelte';
  import { DRIVE_KINDS, gone, MOST_COMPARED, ShelfState, sizes, stateOf } from './shelf.svelte';

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

<div class="flex flex-wrap gap-x-6 gap-y-1.5 items-baseline">
  <h1>Shelf</h1>
  <div class="flex-[1_1_16rem]">
    <Input
      bind:elementRef={find}
      bind:value={shelf.words}
      aria-label="Find by size or words"
      placeholder="Size, state, boat or word: 36 mm, worn, Dipper"
      class="text-lg"
    />
  </div>
  <div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 whitespace-nowrap">
    <Select
      placeholder=""
      aria-label="Put on the shelf"
      value=""
      onchange={(e) => (show(undefined, typed(e)), ((e.target as HTMLSelectElement).value = ''))}
    >
      <option value="">Add a part…</option>
      {#each kinds as one (one.kind)}<option value={one.kind}>{one.label}</option>{/each}
    </Select>
    <a href={fileAt('/api/parts.csv')} download>Export CSV</a>
    <label
      class="cursor-pointer text-water underline underline-offset-2 focus-within:outline-2 focus-within:outline-water"
    >
      Import CSV
      <input
        type="file"
        accept=".csv,text/csv"
        class="visually-hidden"
        onchange={(e) => {
          const file = e.currentTarget.files?.[0];
          if (file) void shelf.importCsv(file);
          e.currentTarget.value = '';
        }}
      />
    </label>
    <Small label="Prices in" inputmode="text" value={units.currency} onchange={(e) => units.pay(typed(e))} />
  </div>
</div>
<div class="tabs" role="group" aria-label="Kinds">
  <Button aria-pressed={shelf.kind === ''} onclick={() => (shelf.kind = '')} class={tab}>All</Button>
  {#each kinds.filter((k) => shelf.counts[k.kind]) as one (one.kind)}
    <Button aria-pressed={shelf.kind === one.kind} onclick={() => (shelf.kind = one.kind)} class={tab}
      >{one.label} <span class="quiet">{shelf.counts[one.kind]}</span></Button
    >
  {/each}
</div>
{#if shelf.problem && !open}<Notice kind="problem"
    >{shelf.problem.message}{#if shelf.problem.line}
      (line {shelf.problem.line}; nothing was taken){/if}
    <Button color="alternative" onclick={() => void shelf.load()}>Load again</Button></Notice
  >{/if}
{#if shelf.phase === 'loading'}
  <Wait>Loading the shelf…</Wait>
{:else if !shelf.parts.length}
  <Notice>The shelf is empty. Add a new boat, add parts one by one, or import a CSV.</Notice>
{:else}
  {#if shelf.due.length && !shelf.words && !shelf.kind}
    <p class="mt-1 mb-4 border-l-3 border-l-ochre-mark pl-2.5">
      Due: {#each shelf.due as one, k (one.id)}{k ? ' · ' : ''}<Button onclick={() => show(one, one.kind)} class={link}
          >{one.name}</Button
        >, {one.due}{/each}
    </p>
  {/if}
  <Table>
    <TableHead
      ><TableHeadCell><span class="visually-hidden">Compare</span></TableHeadCell><TableHeadCell>Part</TableHeadCell
      ><TableHeadCell>State</TableHeadCell><TableHeadCell class="n max-md:hidden">Pieces</TableHeadCell><TableHeadCell
        class="n max-md:hidden">Price</TableHeadCell
      ><TableHeadCell class="n">Runs</TableHeadCell><TableHeadCell class="max-md:hidden">Boat</TableHeadCell
      ><TableHeadCell class="max-md:hidden">Sizes</TableHeadCell></TableHead
    >
    <TableBody>
      {#each shelf.shown as one (one.id)}
        <TableBodyRow class={[shelf.picked.includes(one.id) && 'at']}>
          <TableBodyCell>
            {#if DRIVE_KINDS.includes(one.kind) && one.kind !== 'hull'}
              <Checkbox
                aria-label="Compare {one.name}"
                checked={shelf.picked.includes(one.id)}
                disabled={!shelf.picked.includes(one.id) && shelf.picked.length >= MOST_COMPARED}
                onchange={() => shelf.pick(one.id)}
              />
            {/if}
          </TableBodyCell>
          <TableBodyCell
            ><Button onclick={() => show(one, one.kind)} class={[row, gone(one) && 'text-ink-2 line-through']}
              ><span class="quiet">{boathouse.kind(one.kind)}</span> <b>{one.name}</b></Button
            ></TableBodyCell
          >
          <TableBodyCell class={['whitespace-nowrap', gone(one) && 'text-ink-2']}>{stateOf(one)}</TableBodyCell>
          <TableBodyCell class="n max-md:hidden">{one.pieces}</TableBodyCell>
          <TableBodyCell class="n max-md:hidden">{one.price === null ? '–' : units.money(one.price)}</TableBodyCell>
          <TableBodyCell class="n">{one.runs || '–'}</TableBodyCell>
          <TableBodyCell class="max-md:hidden">{one.boats.join(', ')}</TableBodyCell>
          <TableBodyCell
            class="max-w-136 truncate text-[0.82rem] whitespace-nowrap! text-ink-2 font-stretch-[82%] max-md:hidden"
            >{one.record.died_of ? `Failed: ${String(one.record.died_of)}` : sizes(one)}</TableBodyCell
          >
        </TableBodyRow>
      {:else}
        <TableBodyRow
          ><TableBodyCell colspan={8} class="quiet">Nothing matches “{shelf.words}”.</TableBodyCell></TableBodyRow
        >
      {/each}
    </TableBody>
  </Table>
{/if}
{#if shelf.picked.length}
  <div
    class="sticky bottom-0 flex flex-wrap gap-x-4 gap-y-2 items-center bg-sheet border-t border-t-ink -mx-6 mt-3 py-2.5 px-6 max-md:bottom-15"
    role="region"
    aria-label="Compare"
  >
    <span>{shelf.picked.length} of {MOST_COMPARED} to compare in</span>
    <Select placeholder="" aria-label="Boat" value={String(boatId)} onchange={(e) => (boatId = Number(typed(e)))}>
      {#each boathouse.boats as one (one.id)}<option value={String(one.id)}>{one.name}</option>{/each}
    </Select>
    <Button onclick={() => void compare()} disabled={shelf.comparing || !boat}
      >{shelf.comparing ? 'Comparing…' : 'Compare'}</Button
    >
    <Button color="alternative" onclick={() => ((shelf.picked = []), (shelf.candidates = []))}>Clear</Button>
  </div>
{/if}
{#if shelf.candidates.length}<Candidates candidates={shelf.candidates} boat={boat?.name ?? ''} />{/if}
<PartDetail {shelf} {part} {kind} fields={boathouse.vocabulary.fields} boat={boat?.name} onput={put} bind:open />
