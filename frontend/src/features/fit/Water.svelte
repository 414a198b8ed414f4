<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { untrack } from 'svelte';

  import type { Circuit, Piece, SetupDocument } from '$lib/api/client';
  import Asks from '$lib/ui/Asks.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import Wait from '$lib/ui/Wait.svelte';
  import Wide from '$lib/ui/Wide.svelte';
  import { units } from '$lib/units/units.svelte';

  import * as circuits from './circuit';
  import FlowChart from './FlowChart.svelte';
  import Plumbing from './Plumbing.svelte';
  import { WaterState } from './water.svelte';

  /** The water from the pickup to where the driver sees it: drawn by hand, solved over speed, and what goes wrong. */
  let { document, boatId }: { document: SetupDocument; boatId: number } = $props();

  const USABLE = ['controller_first', 'motor_first', 'two_lines', 'one_line', 'by_jet', 'no_water', 'usual'];
  const water = new WaterState();
  let at = $state<circuits.Path>([]);
  // Another boat brings its own circuit; another draft only its heat.
  $effect(() => {
    const id = boatId;
    untrack(() => void water.load(id, document));
  });
  $effect(() => {
    const now = document;
    untrack(() => water.follow(now));
  });

  const piece = $derived(water.drawn && at.length ? circuits.pieceAt(water.drawn, at) : undefined);
  const now = $derived(water.solved?.cases.find((c) => c.key === 'now'));
  function draw(next: Circuit): void {
    water.draw(next);
  }
  function move(own: circuits.Path, by: 1 | -1): void {
    if (!water.drawn) return;
    const found = circuits.moved(water.drawn, own, by);
    draw(found.circuit);
    at = found.path;
    // The focus goes with the piece that was moved.
    requestAnimationFrame(() => window.document.querySelector<HTMLElement>('.piece.at')?.focus());
  }
  function set(change: Partial<Piece>): void {
    if (water.drawn) draw(circuits.changed(water.drawn, at, change));
  }
  function number(event: Event): number {
    return Number(typed(event).replace(',', '.'));
  }
</script>

{#if water.problem}<Notice kind="problem">{water.problem.message}</Notice>{/if}
{#if water.drawn}
  {@const drawn = water.drawn}
  <Wide label="The water circuit in the boat">
    <Plumbing
      circuit={drawn}
      solved={water.solved}
      hull={document.hull.hull_type ?? 'mono'}
      at={at.join('.')}
      onpick={(own) => (at = own)}
      onmove={move}
      onremove={(own) => draw(circuits.without(drawn, own))}
    />
  </Wide>
  <div class="flex flex-wrap gap-x-3 gap-y-1.5 items-center my-2 min-h-11">
    {#if piece}
      <div class="flex flex-wrap gap-x-3 gap-y-1.5 items-center" role="group" aria-label="The chosen piece">
        {#if !piece.branches?.length}
          <Small
            label="bore"
            unit="mm"
            type="number"
            step={0.5}
            value={piece.bore_mm}
            onchange={(e) => set({ bore_mm: number(e) })}
          />
          {#if piece.kind === 'hose'}
            <Small
              label="length"
              unit="mm"
              type="number"
              step={10}
              value={piece.length_mm}
              wide
              onchange={(e) => set({ length_mm: number(e) })}
            />
            <Small label="bends" type="number" value={piece.bends} onchange={(e) => set({ bends: number(e) })} />
          {:else if piece.kind === 'pickup'}
            <Label
              >stands
              <Select
                placeholder=""
                value={piece.source}
                onchange={(e) => set({ source: typed(e) as Piece['source'] })}
              >
                <option value="rudder">in the rudder</option>
                <option value="bottom">through the bottom</option>
                <option value="wash">in the propeller's wash</option>
                <option value="jet">in the jet's own pressure</option>
              </Select></Label
            >
          {/if}
          <Small
            label="open"
            unit="%"
            type="number"
            min={0}
            max={100}
            value={Math.round((piece.open_part ?? 1) * 100)}
            onchange={(e) => set({ open_part: number(e) / 100 })}
          />
          <Button color="alternative" onclick={() => move(at, -1)} aria-label="Towards the pickup">←</Button>
          <Button color="alternative" onclick={() => move(at, 1)} aria-label="Towards the outlet">→</Button>
          <Button color="alternative" onclick={() => draw(circuits.split(drawn, at))}>Split with a Y-piece</Button>
        {:else}
          <Checkbox checked={piece.joins} onchange={(e) => set({ joins: (e.target as HTMLInputElement).checked })}
            >joins again</Checkbox
          >
          <Button color="alternative" onclick={() => draw(circuits.joined(drawn, at))}>Remove the Y-piece</Button>
        {/if}
        <Button color="alternative" onclick={() => draw(circuits.without(drawn, at))}>Remove</Button>
        <Select
          placeholder=""
          aria-label="Put in behind"
          value=""
          onchange={(e) => {
            draw(circuits.inserted(drawn, at, typed(e) as circuits.Kind));
            (e.target as HTMLSelectElement).value = '';
          }}
        >
          <option value="">Insert after…</option>
          {#each circuits.KINDS.slice(0, 3) as kind (kind)}<option value={kind}>{kind}</option>{/each}
        </Select>
      </div>
    {:else}
      <span class="quiet">Select a piece. Arrow keys move it, Delete removes it.</span>
    {/if}
    <span class="flex flex-wrap gap-x-3 gap-y-1.5 items-center ml-auto">
      <Button color="alternative" onclick={() => water.undo()} disabled={!water.canUndo}>Undo</Button>
      <Button color="alternative" onclick={() => draw(circuits.withLine(drawn))}>Add a second line</Button>
      {#if drawn.lines.length > 1}
        <Button color="alternative" onclick={() => draw(circuits.withoutLine(drawn, at[0] ?? drawn.lines.length - 1))}
          >Remove {at.length ? 'this' : 'the last'} line</Button
        >
      {/if}
      <Button onclick={() => void water.keep(boatId)} disabled={!water.dirty}>Save circuit</Button>
    </span>
  </div>
{/if}
{#if water.solved}
  {@const solved = water.solved}
  <div class="grid grid-cols-[minmax(0,1fr)_minmax(0,1.25fr)] gap-8 max-lg:grid-cols-[minmax(0,1fr)]">
    <div class="min-w-0">
      <h2 class="my-1">Flow against speed <Asks of="fit.water" /></h2>
      <FlowChart {solved} />
      <p>
        At walking pace: <b>{solved.walking.words}</b>. At full speed: <b>{solved.full.words}</b>
        ({solved.full.flow_l_min.toFixed(2)} L/min).
        {#if solved.jacket_w_k}A smooth gap round the can would take {solved.jacket_w_k.toFixed(1)} W for each kelvin.{/if}
      </p>
      <p class="border-l-3 border-l-ochre-mark pl-2.5 text-sm">{solved.caution}</p>
    </div>
    <div class="cases">
      <h2 class="my-1">What if</h2>
      <Wide label="What if">
        <Table>
          <TableHead
            ><TableHeadCell>Case</TableHeadCell><TableHeadCell class="n">Motor L/min</TableHeadCell><TableHeadCell
              class="n">Water in {units.unit('temperature').unit}</TableHeadCell
            ><TableHeadCell class="n">Case peak</TableHeadCell><TableHeadCell>At the outlet</TableHeadCell
            ><TableHeadCell><span class="visually-hidden">Use</span></TableHeadCell></TableHead
          >
          <TableBody>
            {#each solved.cases as one (one.key)}
              <TableBodyRow class={one.key === 'now' ? 'font-semibold' : ''}>
                <TableBodyCell>{one.title}</TableBodyCell>
                <TableBodyCell class="n">{one.motor_l_min.toFixed(2)}</TableBodyCell>
                <TableBodyCell class="n">{units.show(one.motor_inlet_c, 'temperature').text}</TableBodyCell>
                <TableBodyCell class="n"
                  >{units.show(one.motor_c, 'temperature').text}{#if now && one.key !== 'now'}
                    <span class="quiet ms-1"
                      >{one.motor_c - now.motor_c >= 0 ? '+' : '−'}{Math.abs(one.motor_c - now.motor_c).toFixed(
                        0,
                      )}</span
                    >{/if}</TableBodyCell
                >
                <TableBodyCell class="text-[0.84rem]">{one.seen}</TableBodyCell>
                <TableBodyCell
                  >{#if USABLE.includes(one.key)}<Button onclick={() => draw(one.circuit)} class={link}
                      >Use this circuit<span class="visually-hidden">: {one.title}</span></Button
                    >{/if}</TableBodyCell
                >
              </TableBodyRow>
            {/each}
          </TableBody>
        </Table>
      </Wide>
    </div>
  </div>
{:else if !water.problem}
  <Wait>Working out the flow…</Wait>
{/if}
