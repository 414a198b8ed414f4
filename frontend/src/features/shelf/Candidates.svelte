<script lang="ts">
  import type { Candidate } from '$lib/api/client';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  /** Parts side by side, each in this boat: a column each, a row for each question. */
  let { candidates, boat }: { candidates: Candidate[]; boat: string } = $props();

  const best = $derived(Math.max(...candidates.map((c) => c.high_mps ?? 0)));
  const ROWS: [string, (c: Candidate) => string][] = [
    ['speed', (c) => units.text(c.speed_mps, 'speed', 0)],
    ['80 % band', (c) => `${units.show(c.low_mps, 'speed', 0).text} to ${units.show(c.high_mps, 'speed', 0).text}`],
    ['current', (c) => units.text(c.current_a, 'current')],
    ['rpm loaded', (c) => units.show(c.rpm, 'rotation').text],
    ['motor case, peak', (c) => units.text(c.case_c, 'temperature')],
    ['controller, peak', (c) => units.text(c.controller_c, 'temperature')],
    ['tightest limit', (c) => (c.use ? `${Math.round(c.use * 100)}% ${c.tightest.toLowerCase()}` : '')],
    ['boat, ready to run', (c) => units.text(c.mass_kg, 'mass')],
    ['price', (c) => (c.price === null ? '–' : String(c.price))],
  ];
</script>

<h2>In {boat}</h2>
<div class="wide">
  <table>
    <thead>
      <tr
        ><th></th>{#each candidates as c (c.part_id)}<th>{c.kind}<br /><b>{c.name}</b></th>{/each}</tr
      >
    </thead>
    <tbody>
      <tr class="bars">
        <th scope="row">speed with band</th>
        {#each candidates as c (c.part_id)}
          <td>
            {#if c.speed_mps && c.low_mps && c.high_mps}
              <svg viewBox="0 0 100 14" preserveAspectRatio="none" role="img" aria-label="speed with its band">
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
          </td>
        {/each}
      </tr>
      {#each ROWS as [name, text] (name)}
        <tr
          ><th scope="row">{name}</th>{#each candidates as c (c.part_id)}<td>{c.refusal ? '–' : text(c)}</td>{/each}</tr
        >
      {/each}
      <tr
        ><th scope="row">verdict</th>{#each candidates as c (c.part_id)}<td
            >{#if c.refusal}<Verdict verdict="none" /> <span class="small">{c.refusal}</span>{:else}<Verdict
                verdict={c.verdict}
              />{/if}</td
          >{/each}</tr
      >
      <tr
        ><th scope="row">does it fit</th>{#each candidates as c (c.part_id)}<td class="small">
            {#each c.fit_problems as problem (problem)}<p>{problem}</p>{:else}{c.refusal
                ? '–'
                : 'nothing known clashes'}{/each}
          </td>{/each}</tr
      >
    </tbody>
  </table>
</div>

<style>
  .wide {
    overflow-x: auto;
  }
  table {
    border-collapse: collapse;
    table-layout: fixed;
    width: 100%;
    min-width: 34rem;
  }
  th {
    font-weight: 500;
    color: var(--ink-2);
    vertical-align: bottom;
    padding: 0.2rem 0.8rem 0.2rem 0;
  }
  thead b {
    color: var(--ink);
    font-size: 1rem;
  }
  tbody th {
    vertical-align: top;
    white-space: nowrap;
  }
  td {
    border-bottom: 1px solid var(--hair);
    padding: 0.2rem 0.8rem 0.2rem 0;
    vertical-align: top;
    font-weight: 500;
  }
  .small,
  .small p {
    font-size: 0.84rem;
    margin: 0 0 0.2rem;
    font-weight: 400;
  }
  svg {
    width: 100%;
    height: 14px;
  }
  .band {
    fill: var(--water-pale);
  }
  .mid {
    fill: var(--ink);
  }
</style>
