<script lang="ts">
  import Cloud from '$lib/charts/Cloud.svelte';
  import type { Found, SetupDocument } from '$lib/api/client';
  import { aim } from '$lib/state/aim.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { grouped, units } from '$lib/units/units.svelte';

  import { SearchState } from './search.svelte';

  /** Everything at once: all that lies on the shelf, or whole ranges; the drives that nobody beats. */
  let { document, onpick }: { document: SetupDocument; onpick: (found: Found) => void } = $props();

  const search = new SearchState();
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
  const priced = $derived(result?.found.some((found) => found.price) ?? false);
  const bounds = $derived(
    [
      aim.mostMass ? `no boat over ${units.typed(aim.mostMass).text} ${units.typed(aim.mostMass).unit}` : '',
      aim.roomLength && search.over === 'shelf' ? `no motor that needs more than ${aim.roomLength.value} mm` : '',
      aim.budget !== undefined && search.over === 'shelf' ? `parts for no more than ${aim.budget}` : '',
    ]
      .filter(Boolean)
      .join(', '),
  );
</script>

<div class="ask">
  <div class="tabs" role="group" aria-label="Search over">
    <button class="tab" aria-pressed={search.over === 'shelf'} onclick={() => (search.over = 'shelf')}
      >Parts on the shelf</button
    >
    <button class="tab" aria-pressed={search.over === 'ranges'} onclick={() => (search.over = 'ranges')}>Ranges</button>
  </div>
  <div class="free" role="group" aria-label="What may change">
    {#if search.over === 'shelf'}
      {#each KINDS as kind (kind)}
        <label><input type="checkbox" bind:checked={search.kinds[kind]} /> {kind}</label>
      {/each}
    {:else}
      {#each RANGES as [key, words] (key)}
        <label><input type="checkbox" bind:checked={search.ranges[key]} /> {words}</label>
      {/each}
      <label class="fine"
        >values per range <input type="number" min="3" max="200" bind:value={search.ranges.fineness} /></label
      >
    {/if}
  </div>
  {#if search.busy}
    <button class="plain" onclick={() => search.stop()}>Stop</button>
  {:else}
    <button class="plain" onclick={() => ((at = -1), void search.start(document))}>Search these</button>
  {/if}
</div>
{#if bounds}<p class="quiet">From Aim: {bounds}.</p>{/if}
{#if search.busy}
  <progress max="1" value={search.part} aria-label="Progress of the search"></progress>
  <p class="quiet">{grouped(search.progress?.done ?? 0, 0)} of {grouped(search.progress?.total ?? 0, 0)} drives</p>
{/if}
{#if search.problem}<Notice kind="problem">{search.problem.message}</Notice>{/if}
{#if search.stopped}<p class="quiet">Search stopped. No results were kept.</p>{/if}
{#if result}
  <p class="counts">
    {grouped(result.tried, 0)} drives tried, {grouped(result.holding, 0)} hold every limit{result.left_out
      ? `, ${grouped(result.left_out, 0)} left out`
      : ''}. Best trade-offs:
  </p>
  {#if !result.found.length}
    <Notice>No combination works. Vary more parts, or relax the mass or budget limits in Aim.</Notice>
  {:else}
    <Cloud search={result} {at} />
    <table>
      <thead
        ><tr
          ><th>Drive</th><th class="n">{units.unit('speed').unit}</th><th class="n">A</th><th class="n"
            >Full throttle</th
          >{#if priced}<th class="n">price</th>{/if}<th>Verdict, tightest limit</th></tr
        ></thead
      >
      <tbody>
        {#each result.found as found, k (k)}
          <tr class:at={k === at} onpointerenter={() => (at = k)}>
            <td>
              <button
                onclick={() => {
                  at = k;
                  onpick(found);
                }}>{found.words}</button
              >
            </td>
            <td class="n">{units.show(found.speed_mps, 'speed', 0).text}</td>
            <td class="n">{Math.round(found.current_a)}</td>
            <td class="n">{Math.round(found.run_s)} s</td>
            {#if priced}<td class="n">{found.price ? grouped(found.price, 0) : '–'}</td>{/if}
            <td
              ><Verdict verdict={found.verdict} />
              <span class="quiet">{Math.round(found.use * 100)}% {found.tightest.toLowerCase()}</span></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="quiet">
      These drives change several things at once. Change one at a time on the water, or you cannot tell which change
      helped.
    </p>
  {/if}
{/if}

<style>
  th {
    white-space: nowrap;
  }
  .ask {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.3rem 1.1rem;
  }
  .free {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 0.9rem;
  }
  .free label {
    display: inline-flex;
    align-items: center;
    gap: 0.3rem;
    min-height: var(--target);
    font-size: 0.92rem;
  }
  .fine input {
    width: 4rem;
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: var(--sheet);
    color: var(--ink);
    padding: 0 0.3rem;
  }
  progress {
    width: 100%;
    height: 8px;
    accent-color: var(--water);
  }
  .counts {
    margin: 0.4rem 0 0.2rem;
  }
  td button {
    text-align: left;
    min-height: calc(var(--target) * 0.85);
  }
  td button:hover {
    color: var(--water);
    text-decoration: underline;
  }
</style>
