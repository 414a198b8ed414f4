<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Answer, Backward, Quantity } from '$lib/api/client';
  import Notice from '$lib/ui/Notice.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { row } from '$lib/ui/theme';
  import Chance from '$lib/ui/Chance.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import Wide from '$lib/ui/Wide.svelte';
  import { toSi, trimmed, units } from '$lib/units/units.svelte';

  import { needs } from './aim';

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
    <Table aria-label="Drives, the least to buy first">
      <TableHead>
        <TableHeadCell>Other parts</TableHeadCell><TableHeadCell class="n">Cells</TableHeadCell><TableHeadCell class="n"
          >KV</TableHeadCell
        ><TableHeadCell class="n">Propeller</TableHeadCell><TableHeadCell class="n"
          >{units.unit('speed').unit}</TableHeadCell
        ><TableHeadCell class="n">A</TableHeadCell><TableHeadCell class="n">W</TableHeadCell><TableHeadCell
          >Verdict, chance past a limit, tightest</TableHeadCell
        >
      </TableHead>
      <TableBody>
        {#each answer.answers as found, k (k)}
          {@const part = needs(found)}
          <TableBodyRow class={[k === chosen && 'at']}>
            <TableBodyCell
              ><Button
                aria-pressed={k === chosen}
                onclick={() => (chosen = k)}
                class={[row, 'inline min-h-7 leading-snug underline underline-offset-3']}
                >{#if part.buy.length}Buy <b>{part.buy.join(', ')}</b>{/if}{part.buy.length && part.shelf.length
                  ? '; from'
                  : part.shelf.length
                    ? 'From'
                    : ''}{#if part.shelf.length}&nbsp;the shelf <b>{part.shelf.join(', ')}</b>{/if}{!part.buy.length &&
                !part.shelf.length
                  ? 'None: today’s drive'
                  : ''}</Button
              >{#if found.price}<span class="quiet block"
                  >{units.money(found.price)}{found.price_per_mps
                    ? `, ${units.money(Math.round((10 * found.price_per_mps) / units.unit('speed').factor) / 10)} per ${units.unit('speed').unit}`
                    : ''}</span
                >{/if}</TableBodyCell
            >
            <TableBodyCell class="n">{found.cells}S</TableBodyCell>
            <TableBodyCell class="n">{Math.round(found.kv_rpm_per_v / 10) * 10}</TableBodyCell>
            <TableBodyCell class="n"
              >{units.show(found.diameter_m, 'length').text} × {found.pitch_ratio.toFixed(2)}</TableBodyCell
            >
            <TableBodyCell class="n">{units.show(found.speed_mps, 'speed', 0).text}</TableBodyCell>
            <TableBodyCell class="n">{Math.round(found.current_a)}</TableBodyCell>
            <TableBodyCell class="n">{Math.round(found.shaft_power_w)}</TableBodyCell>
            <TableBodyCell class="whitespace-nowrap!"
              ><Verdict verdict={found.verdict} />
              {#if found.breaks}<span class="block whitespace-normal text-vermilion"
                  >Not in the class: {found.breaks}</span
                >{/if}
              <Chance chance={found.chance} />
              <span class="quiet block max-w-[20ch] whitespace-normal"
                >{found.tightest}{found.at_end ? '; at the end of what was tried' : ''}</span
              >
              {#if found.danger}<span class="block max-w-[34ch] whitespace-normal text-vermilion">{found.danger}</span
                >{/if}</TableBodyCell
            >
          </TableBodyRow>
        {/each}
      </TableBody>
    </Table>
  </Wide>
  {#if picked}
    <div
      class="sticky bottom-0 flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-ink bg-paper py-2 max-md:bottom-16"
    >
      <Button onclick={() => ontry(picked)}>Try in Match</Button>
      <p class="m-0 max-w-[75ch] flex-[1_1_24rem] text-[0.92rem]">
        It takes a controller rated <b>{picked.controller_class_a} A</b>, a motor of about
        <b>{units.text(picked.motor_kg, 'mass')}</b> ({units.text(picked.motor_room_m, 'length', 0)} with its wires, at today's
        can diameter){#if room && picked.motor_room_m > toSi(room)},
          <span class="short">longer than the motor bay: use a thicker can, or shorter runs</span>{/if}, a pack that
        really delivers <b>{Math.ceil(picked.pack_c)} C</b> at today's capacity, <b>AWG {picked.wire_awg}</b> and
        <b>{trimmed(picked.pin_m * 1000)} mm</b> pins. Full throttle lasts <b>{Math.round(picked.run_s)} s</b>.
      </p>
    </div>
  {/if}
{/if}
