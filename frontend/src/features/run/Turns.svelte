<script lang="ts">
  import type { TrackView } from '$lib/api/client';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import Asks from '$lib/ui/Asks.svelte';
  import Wide from '$lib/ui/Wide.svelte';
  import { units } from '$lib/units/units.svelte';

  /** The turns of a track: how tight, what was lost, and the grip it took. */
  let { turns }: { turns: TrackView['turns'] } = $props();
  const LISTED = 12;
  const middle = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
  const lost = $derived(middle(turns.map((t) => t.lost)));
</script>

{#if turns.length}
  <section>
    <h2 class="mt-4 mb-1">Turns <Asks of="run.passes" /></h2>
    <p class="quiet mb-1 max-w-[70ch] text-sm">
      {turns.length}
      {turns.length === 1 ? 'turn' : 'turns'}; half of them lost more than {Math.round(100 * lost)} % of the speed they began
      with.
    </p>
    <Wide label="Turns">
      <Table>
        <TableHead
          ><TableHeadCell>Turn</TableHeadCell><TableHeadCell>At</TableHeadCell><TableHeadCell>Radius</TableHeadCell
          ><TableHeadCell>In</TableHeadCell><TableHeadCell>Slowest</TableHeadCell><TableHeadCell>Out</TableHeadCell
          ><TableHeadCell>Lost</TableHeadCell><TableHeadCell>Grip</TableHeadCell></TableHead
        >
        <TableBody>
          {#each turns.slice(0, LISTED) as turn, k (turn.start_s)}
            <TableBodyRow>
              <TableBodyCell>{k + 1} {turn.turned_deg > 0 ? 'right' : 'left'}</TableBodyCell>
              <TableBodyCell>{Math.round(turn.start_s)} s</TableBodyCell>
              <TableBodyCell>{units.text(turn.radius_m, 'distance')}</TableBodyCell>
              <TableBodyCell>{units.text(turn.entry_mps, 'speed')}</TableBodyCell>
              <TableBodyCell>{units.text(turn.slowest_mps, 'speed')}</TableBodyCell>
              <TableBodyCell>{units.text(turn.exit_mps, 'speed')}</TableBodyCell>
              <TableBodyCell>{Math.round(100 * turn.lost)} %</TableBodyCell>
              <TableBodyCell>{turn.lateral_g.toFixed(1)} g</TableBodyCell>
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
    </Wide>
    {#if turns.length > LISTED}<p class="quiet text-sm">The first {LISTED} of {turns.length} are listed.</p>{/if}
  </section>
{/if}
