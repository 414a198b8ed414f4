<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Answer, Backward, Quantity } from '$lib/api/client';
  import Notice from '$lib/ui/Notice.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { row } from '$lib/ui/theme';
  import Verdict from '$lib/ui/Verdict.svelte';
  import Wide from '$lib/ui/Wide.svelte';
  import { toSi, trimmed, units } from '$lib/units/units.svelte';

  /** The backward answer: for each number of cells the easiest drive, with the classes of all that goes with it. */
  let {
    answer,
    chosen = $bindable(0),
    ontry,
    room,
  }: { answer: Backward; chosen?: number; ontry: (answer: Answer) => void; room?: Quantity | undefined } = $props();

  const picked = $derived(answer.answers[chosen]);
</script>

{#if !answer.possible}
  <Notice kind="problem">
    <b>Not possible:</b>
    {answer.reason}
    {answer.answers.length ? 'The closest drives:' : ''}
  </Notice>
{/if}
{#if answer.answers.length}
  <Wide label="Drives that reach the speed">
    <Table>
      <TableHead>
        <TableHeadCell>Cells</TableHeadCell><TableHeadCell class="n">KV</TableHeadCell><TableHeadCell
          >Propeller</TableHeadCell
        ><TableHeadCell class="n">{units.unit('speed').unit}</TableHeadCell><TableHeadCell class="n">A</TableHeadCell
        ><TableHeadCell class="n">Loaded rpm</TableHeadCell><TableHeadCell class="n">Shaft power, W</TableHeadCell
        ><TableHeadCell>Tightest limit</TableHeadCell><TableHeadCell>Verdict</TableHeadCell>
      </TableHead>
      <TableBody>
        {#each answer.answers as found, k (found.cells)}
          <TableBodyRow class={[k === chosen && 'at']}>
            <TableBodyCell
              ><Button
                aria-pressed={k === chosen}
                onclick={() => (chosen = k)}
                class={[row, 'min-w-9.5 font-semibold underline underline-offset-3']}>{found.cells}S</Button
              ></TableBodyCell
            >
            <TableBodyCell class="n">{Math.round(found.kv_rpm_per_v / 10) * 10}</TableBodyCell>
            <TableBodyCell>{units.text(found.diameter_m, 'length')} × {found.pitch_ratio.toFixed(2)}</TableBodyCell>
            <TableBodyCell class="n">{units.show(found.speed_mps, 'speed', 0).text}</TableBodyCell>
            <TableBodyCell class="n">{Math.round(found.current_a)}</TableBodyCell>
            <TableBodyCell class="n">{units.show(found.rpm, 'rotation').text}</TableBodyCell>
            <TableBodyCell class="n">{Math.round(found.shaft_power_w)}</TableBodyCell>
            <TableBodyCell>{Math.round(found.use * 100)}% of {found.tightest.toLowerCase()}</TableBodyCell>
            <TableBodyCell><Verdict verdict={found.verdict} /></TableBodyCell>
          </TableBodyRow>
        {/each}
      </TableBody>
    </Table>
  </Wide>
  {#if picked}
    <p class="max-w-[75ch]">
      It needs a controller rated <b>{picked.controller_class_a} A</b>, a motor of about
      <b>{units.text(picked.motor_kg, 'mass')}</b> ({units.text(picked.motor_room_m, 'length', 0)} with its wires, at today's
      can diameter){#if room && picked.motor_room_m > toSi(room)},
        <span class="short">longer than the motor bay: use a thicker can, or shorter runs</span>{/if}, a pack that
      really delivers
      <b>{Math.ceil(picked.pack_c)} C</b> at today's capacity, <b>AWG {picked.wire_awg}</b> and
      <b>{trimmed(picked.pin_m * 1000)} mm</b>
      pins. Full throttle lasts
      <b>{Math.round(picked.run_s)} s</b>.
    </p>
    <Button onclick={() => ontry(picked)}>Try in Match</Button>
  {/if}
{/if}
