<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';

  import type { Found, SetupDocument } from '$lib/api/client';
  import Cloud from '$lib/charts/Cloud.svelte';
  import { aim } from '$lib/state/aim.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { row, tab } from '$lib/ui/theme';
  import { typedNumber } from '$lib/ui/typed';
  import Chance from '$lib/ui/Chance.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { grouped, units } from '$lib/units/units.svelte';

  import { SearchState } from './search.svelte';

  /** Everything at once: all that lies on the shelf, or whole ranges; the drives that nobody beats. */
  let { document, boatId, onpick }: { document: SetupDocument; boatId: number; onpick: (found: Found) => void } =
    $props();

  const search = new SearchState();
  // Reaches outside: what is set says how large the search would be.
  $effect(() => search.measure(document));
  /** About how long, as one says it. */
  const about = (seconds: number): string =>
    seconds < 2
      ? 'a second or two'
      : seconds < 90
        ? `about ${Math.round(seconds / 5) * 5 || 5} s`
        : `about ${Math.round(seconds / 60)} min`;
  const RANGES = [
    ['kv', 'KV'],
    ['diameter', 'diameter'],
    ['pitch_ratio', 'pitch ratio'],
    ['cells', 'cells'],
    ['mass', 'mass'],
  ] as const;
  const KINDS = ['motor', 'controller', 'propeller', 'pack'] as const;
  let at = $state(-1);
  const result = $derived(search.progress?.result ?? undefined);
  /** What a km/h more costs. */
  const perSpeed = (price: number, gainMps: number) =>
    units.money(Math.round(price / (gainMps * units.unit('speed').factor)));
  const priced = $derived(result?.found.some((found) => found.price) ?? false);
  const bounds = $derived(
    [
      aim.mostMass ? `no boat over ${units.typed(aim.mostMass).text} ${units.typed(aim.mostMass).unit}` : '',
      aim.roomLength && search.over === 'shelf' ? `no motor that needs more than ${aim.roomLength.value} mm` : '',
      aim.budget !== undefined && search.over === 'shelf' ? `parts for no more than ${units.money(aim.budget)}` : '',
    ]
      .filter(Boolean)
      .join(', '),
  );
</script>

<div class="flex flex-wrap items-center gap-x-4.5 gap-y-1">
  <div class="tabs" role="group" aria-label="Search over">
    <Button aria-pressed={search.over === 'shelf'} onclick={() => (search.over = 'shelf')} class={tab}
      >Parts on the shelf</Button
    >
    <Button aria-pressed={search.over === 'ranges'} onclick={() => (search.over = 'ranges')} class={tab}>Ranges</Button>
  </div>
  <div class="flex flex-wrap gap-x-3.5 gap-y-1" role="group" aria-label="What may change">
    {#if search.over === 'shelf'}
      {#each KINDS as kind (kind)}
        <Checkbox bind:checked={search.kinds[kind]}>{kind}</Checkbox>
      {/each}
    {:else}
      {#each RANGES as [key, words] (key)}
        <Checkbox bind:checked={search.ranges[key]}>{words}</Checkbox>
      {/each}
      <Small
        label="values per range"
        type="number"
        min={3}
        max={200}
        value={search.ranges.fineness}
        onchange={(e) => (search.ranges.fineness = Math.round(typedNumber(e) ?? search.ranges.fineness))}
      />
    {/if}
  </div>
  {#if search.busy}
    <Button color="alternative" onclick={() => search.stop()}>Stop</Button>
  {:else}
    <Button
      color="alternative"
      disabled={Boolean(search.size?.problem)}
      onclick={() => ((at = -1), void search.start(document, boatId))}>Search these</Button
    >
  {/if}
</div>
{#if bounds}<p class="quiet">From Aim: {bounds}.</p>{/if}
{#if search.busy}
  <Progressbar
    progress={Math.round(search.part * 100)}
    size="h-2"
    role="progressbar"
    aria-label="Progress of the search"
    aria-valuenow={Math.round(search.part * 100)}
  />
  <p class="quiet">{grouped(search.progress?.done ?? 0, 0)} of {grouped(search.progress?.total ?? 0, 0)} drives</p>
{/if}
{#if search.size?.problem && !search.busy}<Notice kind="problem">{search.size.problem}.</Notice>
{:else if search.size && !search.busy && !result}
  <p>
    It will try <b>{grouped(search.size.drives, 0)}</b>
    {search.over === 'shelf' ? 'combinations of the parts on your shelf in this hull' : 'drives around this one'}, in
    {about(search.size.seconds)}, and keep those that nothing beats: the fastest for their margin, and the fastest for
    their run time.
  </p>
{/if}
{#if search.problem}<Notice kind="problem">{search.problem.message}</Notice>{/if}
{#if search.stopped}<p class="quiet">Search stopped. No results were kept.</p>{/if}
{#if result}
  <p class="mt-1.5 mb-1">
    {grouped(result.tried, 0)} drives tried, {grouped(result.holding, 0)} hold every limit{result.left_out
      ? `, ${grouped(result.left_out, 0)} left out`
      : ''}. Best trade-offs:
  </p>
  {#if !result.found.length}
    <Notice>No combination works. Vary more parts, or relax the mass or budget limits in Aim.</Notice>
  {:else}
    <Cloud search={result} {at} />
    <Table>
      <TableHead
        ><TableHeadCell>Drive</TableHeadCell><TableHeadCell class="n">{units.unit('speed').unit}</TableHeadCell
        ><TableHeadCell class="n">A</TableHeadCell><TableHeadCell class="n">Full throttle</TableHeadCell
        >{#if priced}<TableHeadCell class="n">Price</TableHeadCell>{/if}<TableHeadCell
          >Verdict, chance past a limit, tightest</TableHeadCell
        ></TableHead
      >
      <TableBody>
        {#each result.found as found, k (k)}
          <TableBodyRow onpointerenter={() => (at = k)} class={[k === at && 'at']}>
            <TableBodyCell>
              <Button
                onclick={() => {
                  at = k;
                  onpick(found);
                }}
                class={row}>{found.words}</Button
              >
            </TableBodyCell>
            <TableBodyCell class="n">{units.show(found.speed_mps, 'speed', 0).text}</TableBodyCell>
            <TableBodyCell class="n">{Math.round(found.current_a)}</TableBodyCell>
            <TableBodyCell class="n">{Math.round(found.run_s)} s</TableBodyCell>
            {#if priced}<TableBodyCell class="n"
                >{found.price ? units.money(found.price) : '–'}{#if found.price && found.gain_mps > 0}<span
                    class="quiet block whitespace-nowrap"
                    >{perSpeed(found.price, found.gain_mps)} a {units.unit('speed').unit}</span
                  >{/if}</TableBodyCell
              >{/if}
            <TableBodyCell
              ><Verdict verdict={found.verdict} />
              <Chance chance={found.chance} />
              <span class="quiet"
                >{found.tightest}{found.edges.length
                  ? `; ${found.edges.join(', ')} at the end of what was tried`
                  : ''}</span
              ></TableBodyCell
            >
          </TableBodyRow>
        {/each}
      </TableBody>
    </Table>
    <p class="quiet">
      These drives change several things at once. Change one at a time on the water, or you cannot tell which change
      helped.
    </p>
  {/if}
{/if}
