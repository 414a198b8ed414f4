<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Cause, Knowledge, TrailView } from '$lib/api/client';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link } from '$lib/ui/theme';
  import Wide from '$lib/ui/Wide.svelte';
  import { shortDay } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  /** Every reading of every run beside what was said of it: as bought, with what was known then, and without the run. */
  let {
    knowledge,
    trail,
    onaside,
    onright,
  }: {
    knowledge: Knowledge;
    trail: TrailView;
    onaside: (runs: number[], aside: boolean) => void;
    onright: (run: number, cause: Cause) => void;
  } = $props();

  const FIRST = 4;
  const LEAST = 0.02;
  let all = $state(false);
  const names = $derived(Object.fromEntries(trail.setups.map((s) => [s.setup_id, s.name])));
  const rows = $derived(
    knowledge.judged
      .toReversed()
      .slice(0, all ? undefined : FIRST)
      .flatMap((run) => run.readings.map((m, k) => ({ run, m, first: k === 0, count: run.readings.length }))),
  );
  const every = $derived(knowledge.judged.flatMap((run) => run.readings));
  const odd = $derived(knowledge.judged.filter((run) => run.off !== null));
  const held = $derived(every.filter((m) => m.inside).length);
  /** What would have been meant; empty where a cause says of no number and no setup. */
  const meant = (cause: Knowledge['judged'][number]['causes'][number]) =>
    cause.fits !== null
      ? units.text(cause.fits, cause.dimension)
      : cause.setup_id !== null
        ? (names[cause.setup_id] ?? 'an older setup')
        : '';
  const said = (cause: Knowledge['judged'][number]['causes'][number]) => {
    const what = meant(cause);
    return what ? `${cause.words}: ${what}` : cause.words;
  };
  const chance = (part: number) => `${Math.min(Math.round(100 * part), 99)} in 100`;
</script>

{#each odd as run (run.run_id)}
  <div class="mt-3 border-l-3 border-l-short pl-3" data-testid="odd-run">
    <b>{shortDay(run.started_at)}, {names[run.setup_id] ?? 'older setup'}: {run.worst.toLowerCase()} does not fit.</b>
    It may be {run.causes
      .filter((c, k) => k === 0 || c.chance >= LEAST)
      .map((c) => `${said(c)} (${chance(c.chance)})`)
      .join(', ')}.
    {#if run.causes[0] && meant(run.causes[0])}
      {@const first = run.causes[0]}
      <Button onclick={() => onright(run.run_id, first.cause)} class={link}>Put it right: {meant(first)}</Button>
    {/if}
    <Button onclick={() => onaside([run.run_id], true)} class={link}>Set it aside</Button>
  </div>
{/each}
<Wide label="Forecast and result">
  <Table aria-label="Forecast and result">
    <TableHead>
      <TableHeadCell>Setup, run</TableHeadCell><TableHeadCell>Quantity</TableHeadCell><TableHeadCell class="n"
        >As bought</TableHeadCell
      ><TableHeadCell class="n">Known then</TableHeadCell><TableHeadCell class="n">80 % band</TableHeadCell
      ><TableHeadCell class="n">Measured</TableHeadCell><TableHeadCell>In band</TableHeadCell><TableHeadCell class="n"
        >Without this run</TableHeadCell
      >
    </TableHead>
    <TableBody>
      {#each rows as { run, m, first, count } (`${run.run_id}-${m.label}`)}
        <TableBodyRow class={first ? 'border-t border-rule' : ''}>
          {#if first}<TableHeadCell rowspan={count} scope="rowgroup" class="pt-1 align-top font-semibold text-ink"
              >{names[run.setup_id] ?? 'older setup'}<br /><span class="quiet">{shortDay(run.started_at)}</span
              ></TableHeadCell
            >{/if}
          <TableBodyCell
            >{m.label}{#if m.dimension === 'temperature'}<span class="quiet">, {m.minutes} min</span
              >{/if}</TableBodyCell
          >
          <TableBodyCell class="n quiet">{units.text(m.bought.value, m.dimension)}</TableBodyCell>
          <TableBodyCell class="n underline decoration-water decoration-dashed decoration-1 underline-offset-3"
            >{units.text(m.then.value, m.dimension)}</TableBodyCell
          >
          <TableBodyCell class="n quiet"
            >{units.show(m.then.low, m.dimension).text} to {units.show(m.then.high, m.dimension).text}</TableBodyCell
          >
          <TableBodyCell class="n"><b>{units.text(m.read, m.dimension)}</b></TableBodyCell>
          <TableBodyCell>{m.inside ? 'held' : 'missed'}</TableBodyCell>
          <TableBodyCell class="n quiet">{units.text(m.without.value, m.dimension)}</TableBodyCell>
        </TableBodyRow>
      {/each}
    </TableBody>
  </Table>
</Wide>
{#if knowledge.judged.length > FIRST && !all}
  <Button onclick={() => (all = true)} class={link}>Show all {knowledge.judged.length} runs</Button>
{/if}
<p class="quiet max-w-[70ch]">
  {held} of {every.length} results lie in the band that was known before their run; about four in five should.
  <em>Without this run</em> is what all other runs say of it.
</p>
