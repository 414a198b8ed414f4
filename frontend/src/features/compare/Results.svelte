<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { TrailView } from '$lib/api/client';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link } from '$lib/ui/theme';
  import Wide from '$lib/ui/Wide.svelte';
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
  <Wide label="Forecast and result">
    <Table aria-label="Forecast and result">
      <TableHead>
        <TableHeadCell>Setup, run</TableHeadCell><TableHeadCell>Quantity</TableHeadCell><TableHeadCell class="n"
          >Forecast</TableHeadCell
        ><TableHeadCell class="n">80 % band</TableHeadCell><TableHeadCell class="n">Measured</TableHeadCell
        ><TableHeadCell class="n">Difference</TableHeadCell><TableHeadCell>In band</TableHeadCell>
      </TableHead>
      <TableBody>
        {#each rows as { setup, run, m, first, count } (`${run.run_id}-${m.label}`)}
          <TableBodyRow class={first ? 'border-t border-rule' : ''}>
            {#if first}<TableHeadCell rowspan={count} scope="rowgroup" class="pt-1 align-top font-semibold text-ink"
                >{setup.name}<br /><span class="quiet">{shortDay(run.started_at)}</span></TableHeadCell
              >{/if}
            <TableBodyCell>{m.label}</TableBodyCell>
            <TableBodyCell class="n underline decoration-water decoration-dashed decoration-1 underline-offset-3"
              >{units.text(m.forecast, m.dimension)}</TableBodyCell
            >
            <TableBodyCell class="n quiet"
              >{units.show(m.low, m.dimension).text} to {units.show(m.high, m.dimension).text}</TableBodyCell
            >
            <TableBodyCell class="n"><b>{units.text(m.measured, m.dimension)}</b></TableBodyCell>
            <TableBodyCell class="n">{signed(off(m.measured, m.forecast))}</TableBodyCell>
            <TableBodyCell>{m.inside === null ? '' : m.inside ? 'held' : 'missed'}</TableBodyCell>
          </TableBodyRow>
        {/each}
      </TableBody>
    </Table>
  </Wide>
  {#each trail.setups.filter((s) => s.runs_in_all > s.runs.length) as setup (setup.setup_id)}
    <p>
      <Button onclick={() => onolder(setup.setup_id)} class={link}>Show older runs of {setup.name}</Button>
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
