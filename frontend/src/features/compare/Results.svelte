<script lang="ts">
  import type { TrailView } from '$lib/api/client';
  import { shortDay } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import { off } from './trail';

  /** Forecast beside measured for every run, with how far it is off and whether the band held. */
  let { trail, onolder }: { trail: TrailView; onolder: (setupId: number) => void } = $props();

  const rows = $derived(
    trail.setups.flatMap((setup) =>
      setup.runs.flatMap((run) =>
        run.measured.map((m, k) => ({ setup, run, m, first: k === 0, count: run.measured.length })),
      ),
    ),
  );
  function signed(value: number | undefined): string {
    return value === undefined ? '' : `${value >= 0 ? '+' : '−'}${Math.abs(value).toFixed(1)}%`;
  }
</script>

<section>
  <h2>Forecast and result</h2>
  <div class="scroll">
    <table>
      <thead>
        <tr
          ><th>Setup, run</th><th>Quantity</th><th class="n">Forecast</th><th class="n">80 % band</th><th class="n"
            >Measured</th
          ><th class="n">Difference</th><th>In band</th></tr
        >
      </thead>
      <tbody>
        {#each rows as { setup, run, m, first, count } (`${run.run_id}-${m.label}`)}
          <tr class:first>
            {#if first}<th rowspan={count} scope="rowgroup"
                >{setup.name}<br /><span class="quiet">{shortDay(run.started_at)}</span></th
              >{/if}
            <td>{m.label}</td>
            <td class="n forecast">{units.text(m.forecast, m.dimension)}</td>
            <td class="n quiet">{units.show(m.low, m.dimension).text} to {units.show(m.high, m.dimension).text}</td>
            <td class="n"><b>{units.text(m.measured, m.dimension)}</b></td>
            <td class="n">{signed(off(m.measured, m.forecast))}</td>
            <td>{m.inside === null ? '' : m.inside ? 'held' : 'missed'}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  {#each trail.setups.filter((s) => s.runs_in_all > s.runs.length) as setup (setup.setup_id)}
    <p>
      <button class="link" onclick={() => onolder(setup.setup_id)}>Show older runs of {setup.name}</button>
      <span class="quiet">{setup.runs.length} of {setup.runs_in_all} shown</span>
    </p>
  {/each}
  {#each trail.setups.flatMap((s) => s.runs).filter((run) => run.odd) as run (run.run_id)}
    <p class="quiet">{shortDay(run.started_at)}: {run.odd}. The usual water and air stand in.</p>
  {/each}
  <p class="quiet">
    The 80 % band should contain four results in five. If it misses more often, one of the boat's numbers is wrong.
  </p>
</section>

<style>
  h2 {
    margin: 1.6rem 0 0.4rem;
  }
  .scroll {
    overflow-x: auto;
  }
  tbody th {
    vertical-align: top;
    font-weight: 600;
  }
  td,
  th {
    padding: 0.22rem 0.9rem 0.22rem 0;
  }
  td {
    border-bottom: 0; /* a rule between runs, none within one */
  }
  tr.first > * {
    border-top: 1px solid var(--hair);
  }
  .forecast {
    text-decoration: underline dashed 1px;
    text-underline-offset: 3px;
    text-decoration-color: var(--water);
  }
</style>
