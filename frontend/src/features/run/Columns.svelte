<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Radio from 'flowbite-svelte/Radio.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import type { CsvLook, CsvMapping, CsvRole } from '$lib/api/client';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import Wide from '$lib/ui/Wide.svelte';

  import { spark } from './spark';

  /** What the columns of somebody's CSV are: proposed, shown with the first rows and a curve, corrected by the racer. */
  let {
    file,
    look,
    run,
    onread,
    oncancel,
  }: {
    file: File;
    look: CsvLook;
    run: boolean;
    onread: (mapping: CsvMapping) => void;
    oncancel: () => void;
  } = $props();

  const KINDS = { track: 'a track', log: "a controller's log", charge: "a charger's log" };
  const UNIT_WORDS: Record<string, string> = {
    us: 'µs',
    degC: '°C',
    degF: '°F',
    deg: '°',
    '1e-7 deg': '10⁻⁷ °',
    cV: '0.01 V',
    dV: '0.1 V',
    cA: '0.01 A',
    dA: '0.1 A',
  };
  const unitWords = (unit: string): string => UNIT_WORDS[unit] ?? unit.replace('field, ', 'turns of the field, ');

  // A new file makes a new form: what is edited here is a copy of what was found.
  // svelte-ignore state_referenced_locally
  let kind = $state<CsvMapping['kind']>(look.kind ?? 'log');
  // svelte-ignore state_referenced_locally
  const columns = $state(look.columns.map(({ role, unit }) => ({ role: role as CsvRole | null, unit })));

  const unitsOf = (role: CsvRole | null): string[] => look.roles.find((r) => r.role === role)?.units ?? [];
  const chosen = $derived(columns.flatMap(({ role, unit }, column) => (role ? [{ column, role, unit }] : [])));
  // svelte-ignore state_referenced_locally
  const asked = look.columns.flatMap((column, k) => (column.options.length > 0 ? [{ ...column, k }] : []));
  const keyOf = (one?: { role: string | null; unit: string }): string => `${one?.role ?? ''} ${one?.unit ?? ''}`;
  const optionWords = ({ role, unit, reads }: (typeof asked)[number]['options'][number]): string =>
    role ? `${role} in ${unitWords(unit)}: ${reads}` : 'nothing to be read';
  const firstRows = (k: number): string =>
    look.rows
      .slice(0, 3)
      .map((row) => row[k])
      .join(' · ');
  const roles = $derived(chosen.map((c) => c.role));
  const missing = $derived(
    !roles.includes('time')
      ? 'Say which column is the time.'
      : kind === 'track' && !roles.includes('place') && !(roles.includes('latitude') && roles.includes('longitude'))
        ? 'A track needs latitude and longitude.'
        : kind !== 'track' && !run
          ? 'A log belongs to a run: take in its track first, or type in the run.'
          : '',
  );

  function say(column: number, role: string, unit = ''): void {
    const now = (role || null) as CsvRole | null;
    // What is said of this column is no longer said of another; only cells are many.
    if (now && now !== 'cell voltage')
      for (const other of columns) if (other.role === now) [other.role, other.unit] = [null, ''];
    columns[column] = { role: now, unit: unit || (unitsOf(now)[0] ?? '') };
  }
</script>

<section class="my-3 border border-ink p-3" aria-labelledby="columns-of">
  <h2 id="columns-of" class="text-base">What is in {file.name}?</h2>
  <p class="quiet mb-2 max-w-[70ch]">
    {look.columns.length} columns, parted by {look.delimiter === '\t'
      ? 'tabs'
      : `“${look.delimiter}”`}{look.decimal_comma ? ', with decimal commas' : ''}. Your answers hold for the next file
    of this shape.
  </p>
  {#each asked as { heading, k, options, plot } (k)}
    <fieldset class="my-3 border-l-4 border-signal pl-3">
      <legend class="font-semibold">What is “{heading || `column ${k + 1}`}”?</legend>
      <p class="quiet flex flex-wrap items-center gap-3">
        {firstRows(k)}
        <svg viewBox="0 0 120 26" width="120" height="26" role="img" aria-label={`Course of ${heading}`}>
          <path d={spark(plot, 120, 26)} fill="none" stroke="currentColor" stroke-width="1.2" />
        </svg>
      </p>
      {#each options as option (keyOf(option))}
        <Radio
          classes={{ label: 'min-h-11 py-1 text-base' }}
          name={`column-${k}`}
          value={keyOf(option)}
          group={keyOf(columns[k])}
          onchange={() => say(k, option.role ?? '', option.unit)}>{optionWords(option)}</Radio
        >
      {/each}
    </fieldset>
  {/each}
  <Label class="inline-flex items-baseline gap-2">
    It is
    <Select placeholder="" value={kind} onchange={(e) => (kind = typed(e) as CsvMapping['kind'])}>
      {#each Object.entries(KINDS) as [value, words] (value)}<option {value}>{words}</option>{/each}
    </Select>
  </Label>
  <details class="my-3" open={asked.length === 0}>
    <summary class="cursor-pointer py-2">All columns</summary>
    <Wide label="Columns of the file">
      <Table>
        <TableHead>
          <TableHeadCell>Column</TableHeadCell><TableHeadCell>First rows</TableHeadCell><TableHeadCell
            >Course</TableHeadCell
          ><TableHeadCell>Is</TableHeadCell><TableHeadCell>In</TableHeadCell>
        </TableHead>
        <TableBody>
          {#each look.columns as column, k (k)}
            {@const said = columns[k]}
            <TableBodyRow class={said?.role ? '' : 'text-ink-2'}>
              <TableBodyCell>{column.heading || `column ${k + 1}`}</TableBodyCell>
              <TableBodyCell class="whitespace-nowrap">{firstRows(k)}</TableBodyCell>
              <TableBodyCell>
                <svg viewBox="0 0 120 26" width="120" height="26" role="img" aria-label={`Course of column ${k + 1}`}>
                  <path d={spark(column.plot, 120, 26)} fill="none" stroke="currentColor" stroke-width="1.2" />
                </svg>
              </TableBodyCell>
              <TableBodyCell>
                <Select
                  placeholder=""
                  aria-label={`Column ${k + 1} is`}
                  value={said?.role ?? ''}
                  onchange={(e) => say(k, typed(e))}
                >
                  <option value="">passed over</option>
                  {#each look.roles as { role } (role)}<option value={role}>{role}</option>{/each}
                </Select>
              </TableBodyCell>
              <TableBodyCell>
                {#if said?.role}
                  <Select
                    placeholder=""
                    aria-label={`Unit of column ${k + 1}`}
                    value={said.unit}
                    onchange={(e) => (columns[k] = { ...said, unit: typed(e) })}
                  >
                    {#each unitsOf(said.role) as unit (unit)}<option value={unit}>{unitWords(unit)}</option>{/each}
                  </Select>
                {/if}
              </TableBodyCell>
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
    </Wide>
  </details>
  <div class="mt-2 flex flex-wrap items-center gap-3">
    <Button disabled={missing !== ''} onclick={() => onread({ kind, columns: $state.snapshot(chosen) })}
      >Read it so</Button
    >
    <Button class={link} onclick={oncancel}>Cancel</Button>
    {#if missing}<span class="quiet">{missing}</span>{/if}
  </div>
</section>
