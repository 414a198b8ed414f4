<script lang="ts">
  import type { Answer, Backward, Quantity } from '$lib/api/client';
  import Notice from '$lib/ui/Notice.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
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
  <div class="scroll">
    <table>
      <thead>
        <tr
          ><th>Cells</th><th class="n">KV</th><th>Propeller</th><th class="n">{units.unit('speed').unit}</th><th
            class="n">A</th
          ><th class="n">Loaded rpm</th><th class="n">Shaft power, W</th><th>Tightest limit</th><th></th></tr
        >
      </thead>
      <tbody>
        {#each answer.answers as found, k (found.cells)}
          <tr class:chosen={k === chosen}>
            <td
              ><button class="pick" aria-pressed={k === chosen} onclick={() => (chosen = k)}>{found.cells}S</button></td
            >
            <td class="n">{Math.round(found.kv_rpm_per_v / 10) * 10}</td>
            <td>{units.text(found.diameter_m, 'length')} × {found.pitch_ratio.toFixed(2)}</td>
            <td class="n">{units.show(found.speed_mps, 'speed', 0).text}</td>
            <td class="n">{Math.round(found.current_a)}</td>
            <td class="n">{units.show(found.rpm, 'rotation').text}</td>
            <td class="n">{Math.round(found.shaft_power_w)}</td>
            <td>{Math.round(found.use * 100)}% of {found.tightest.toLowerCase()}</td>
            <td><Verdict verdict={found.verdict} /></td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  {#if picked}
    <p class="needs">
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
    <button class="plain strong" onclick={() => ontry(picked)}>Try in Match</button>
  {/if}
{/if}

<style>
  .scroll {
    overflow-x: auto;
  }
  td,
  th {
    padding: 0.1rem 0.8rem 0.1rem 0;
    white-space: nowrap;
  }
  .pick {
    font-weight: 650;
    min-height: calc(var(--target) * 0.85);
    min-width: 2.4rem;
    text-align: left;
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  .chosen td {
    background: var(--water-pale);
  }
  .needs {
    max-width: 75ch;
  }
</style>
