<script lang="ts">
  import type { Candidate } from '$lib/api/client';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import Verdict from '$lib/ui/Verdict.svelte';
  import Wide from '$lib/ui/Wide.svelte';
  import { units } from '$lib/units/units.svelte';

  /** Parts side by side, each in this boat: a column each, a row for each question. */
  let { candidates, boat }: { candidates: Candidate[]; boat: string } = $props();

  const best = $derived(Math.max(...candidates.map((c) => c.high_mps ?? 0)));
  const ROWS: [string, (c: Candidate) => string][] = [
    ['Speed', (c) => units.text(c.speed_mps, 'speed', 0)],
    ['80 % band', (c) => `${units.show(c.low_mps, 'speed', 0).text} to ${units.show(c.high_mps, 'speed', 0).text}`],
    ['Current', (c) => units.text(c.current_a, 'current')],
    ['Loaded rpm', (c) => units.show(c.rpm, 'rotation').text],
    ['Motor case, peak', (c) => units.text(c.case_c, 'temperature')],
    ['Controller, peak', (c) => units.text(c.controller_c, 'temperature')],
    ['Tightest limit', (c) => (c.use ? `${Math.round(c.use * 100)}% ${c.tightest.toLowerCase()}` : '')],
    ['Boat, ready to run', (c) => units.text(c.mass_kg, 'mass')],
    ['Price', (c) => (c.price === null ? '–' : units.money(c.price))],
  ];
</script>

<h2>In {boat}</h2>
<Wide label="Parts side by side">
  <Table class="min-w-136 table-fixed">
    <TableHead>
      <TableHeadCell><span class="visually-hidden">Question</span></TableHeadCell
      >{#each candidates as c (c.part_id)}<TableHeadCell
          >{c.kind}<br /><b class="text-base text-ink">{c.name}</b></TableHeadCell
        >{/each}
    </TableHead>
    <TableBody>
      <TableBodyRow>
        <TableHeadCell scope="row">Speed with band</TableHeadCell>
        {#each candidates as c (c.part_id)}
          <TableBodyCell>
            {#if c.speed_mps && c.low_mps && c.high_mps}
              <svg
                viewBox="0 0 100 14"
                preserveAspectRatio="none"
                role="img"
                aria-label="speed with its band"
                class="w-full h-3.5"
              >
                <rect
                  x={(100 * c.low_mps) / best}
                  width={(100 * (c.high_mps - c.low_mps)) / best}
                  y="3"
                  height="8"
                  class="band"
                />
                <rect x={(100 * c.speed_mps) / best - 0.6} width="1.2" y="0" height="14" class="mid" />
              </svg>
            {/if}
          </TableBodyCell>
        {/each}
      </TableBodyRow>
      {#each ROWS as [name, text] (name)}
        <TableBodyRow
          ><TableHeadCell scope="row">{name}</TableHeadCell>{#each candidates as c (c.part_id)}<TableBodyCell
              >{c.refusal ? '–' : text(c)}</TableBodyCell
            >{/each}</TableBodyRow
        >
      {/each}
      <TableBodyRow
        ><TableHeadCell scope="row">Verdict</TableHeadCell>{#each candidates as c (c.part_id)}<TableBodyCell
            >{#if c.refusal}<Verdict verdict="none" />
              <span class="text-[0.84rem]">{c.refusal}</span>{:else}<Verdict verdict={c.verdict} />{/if}</TableBodyCell
          >{/each}</TableBodyRow
      >
      <TableBodyRow
        ><TableHeadCell scope="row">Does it fit</TableHeadCell>{#each candidates as c (c.part_id)}<TableBodyCell
            class="text-[0.84rem]"
          >
            {#each c.fit_problems as problem (problem)}<p class="mb-1">{problem}</p>{:else}{c.refusal
                ? '–'
                : 'Nothing known clashes'}{/each}
          </TableBodyCell>{/each}</TableBodyRow
      >
    </TableBody>
  </Table>
</Wide>

<style>
  .band {
    fill: var(--water-pale);
  }
  .mid {
    fill: var(--ink);
  }
</style>
