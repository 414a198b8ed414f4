<script lang="ts">
  import { untrack } from 'svelte';
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';

  import type { Circuit, Piece, SetupDocument } from '$lib/api/client';
  import { unitTicks } from '$lib/charts/ticks';
  import Notice from '$lib/ui/Notice.svelte';
  import { units } from '$lib/units/units.svelte';

  import * as circuits from './circuit';
  import Row from './Row.svelte';
  import { WaterState } from './water.svelte';

  /** The water from the pickup to where the driver sees it: drawn by hand, solved over speed, and what goes wrong. */
  let { document, boatId }: { document: SetupDocument; boatId: number } = $props();

  const water = new WaterState();
  let at = $state<circuits.Path>([]);
  let width = $state(500);
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
  const top = $derived(Math.max(0.1, ...(water.solved?.motor_l_min ?? []), ...(water.solved?.controller_l_min ?? [])));
  const x = $derived(scaleLinear([0, water.solved?.full_mps ?? 1], [38, width - 10]));
  const y = $derived(scaleLinear([0, top * 1.1], [150, 8]));
  /** Which line is which, at its end; one word for both where they run together. */
  const ends = $derived.by(() => {
    const [motor, controller] = [water.solved?.motor_l_min.at(-1) ?? 0, water.solved?.controller_l_min.at(-1) ?? 0];
    if (Math.abs(motor - controller) < 0.12 * top) return [{ words: 'motor and controller', y: y(motor) }];
    return [
      { words: 'motor', y: y(motor) },
      { words: 'controller', y: y(controller) },
    ];
  });
  const path = (values: number[]) =>
    line<number>()
      .x((_, k) => x(water.solved?.speed_mps[k] ?? 0))
      .y((v) => y(v))(values) ?? '';

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
    return Number((event.currentTarget as HTMLInputElement).value.replace(',', '.'));
  }
</script>

{#if water.problem}<Notice kind="problem">{water.problem.message}</Notice>{/if}
{#if water.drawn}
  {@const drawn = water.drawn}
  <div class="lines" role="group" aria-label="Water circuit">
    {#each drawn.lines as row, k (k)}
      <div class="line">
        <Row
          {row}
          path={[k]}
          solved={water.solved}
          at={at.join('.')}
          onpick={(own) => (at = own)}
          onmove={move}
          onremove={(own) => draw(circuits.without(drawn, own))}
        />
        {#if drawn.lines.length > 1}<button class="link" onclick={() => draw(circuits.withoutLine(drawn, k))}
            >Remove line {k + 1}</button
          >{/if}
      </div>
    {/each}
  </div>
  <div class="do">
    {#if piece}
      <div class="edit" role="group" aria-label="The chosen piece">
        {#if !piece.branches?.length}
          <label
            >bore <input type="number" step="0.5" value={piece.bore_mm} onchange={(e) => set({ bore_mm: number(e) })} /> mm</label
          >
          {#if piece.kind === 'hose'}
            <label
              >length <input
                type="number"
                step="10"
                value={piece.length_mm}
                onchange={(e) => set({ length_mm: number(e) })}
              /> mm</label
            >
            <label>bends <input type="number" value={piece.bends} onchange={(e) => set({ bends: number(e) })} /></label>
          {:else if piece.kind === 'pickup'}
            <label
              >stands
              <select value={piece.source} onchange={(e) => set({ source: e.currentTarget.value as Piece['source'] })}>
                <option value="rudder">in the rudder</option>
                <option value="bottom">through the bottom</option>
                <option value="wash">in the propeller's wash</option>
              </select></label
            >
          {/if}
          <label
            >open <input
              type="number"
              min="0"
              max="100"
              value={Math.round((piece.open_part ?? 1) * 100)}
              onchange={(e) => set({ open_part: number(e) / 100 })}
            /> %</label
          >
          <button class="plain small" onclick={() => move(at, -1)} aria-label="Towards the pickup">←</button>
          <button class="plain small" onclick={() => move(at, 1)} aria-label="Towards the outlet">→</button>
          <button class="plain small" onclick={() => draw(circuits.split(drawn, at))}>Split with a Y-piece</button>
        {:else}
          <label
            ><input type="checkbox" checked={piece.joins} onchange={(e) => set({ joins: e.currentTarget.checked })} /> joins
            again</label
          >
          <button class="plain small" onclick={() => draw(circuits.joined(drawn, at))}>no Y</button>
        {/if}
        <button class="plain small" onclick={() => draw(circuits.without(drawn, at))}>Remove</button>
        <select
          aria-label="Put in behind"
          value=""
          onchange={(e) => {
            draw(circuits.inserted(drawn, at, e.currentTarget.value as circuits.Kind));
            e.currentTarget.value = '';
          }}
        >
          <option value="">Insert after…</option>
          {#each circuits.KINDS.slice(0, 3) as kind (kind)}<option value={kind}>{kind}</option>{/each}
        </select>
      </div>
    {:else}
      <span class="quiet">Select a piece. Arrow keys move it, Delete removes it.</span>
    {/if}
    <span class="keep">
      <button class="plain small" onclick={() => water.undo()} disabled={!water.canUndo}>Undo</button>
      <button class="plain small" onclick={() => draw(circuits.withLine(drawn))}>Add a second line</button>
      <button class="plain small strong" onclick={() => void water.keep(boatId)} disabled={!water.dirty}
        >Save circuit</button
      >
    </span>
  </div>
{/if}
{#if water.solved}
  {@const solved = water.solved}
  <div class="below">
    <div class="flow" bind:clientWidth={width}>
      <h2>Flow against speed</h2>
      <svg {width} height="186" role="img" aria-label="Flow through motor and controller against speed">
        {#each y.ticks(4) as t (t)}<line x1="38" x2={width - 10} y1={y(t)} y2={y(t)} class="grid" /><text
            x="32"
            y={y(t) + 4}
            class="tick"
            text-anchor="end">{t}</text
          >{/each}
        <path d={path(solved.motor_l_min)} class="motor" />
        <path d={path(solved.controller_l_min)} class="controller" />
        {#each unitTicks(x.domain(), 'speed', 6) as t (t.at)}<text x={x(t.at)} y="168" class="tick" text-anchor="middle"
            >{t.text}</text
          >{/each}
        <text x={width - 10} y="184" class="tick" text-anchor="end">{units.unit('speed').unit}</text>
        <text x="44" y="12" class="tick">L/min</text>
        {#each ends as end (end.words)}
          <text x={width - 14} y={end.y - 6} class="said" text-anchor="end">{end.words}</text>
        {/each}
      </svg>
      <p>
        At walking pace: <b>{solved.walking.words}</b>. At full speed: <b>{solved.full.words}</b>
        ({solved.full.flow_l_min.toFixed(2)} L/min).
        {#if solved.jacket_w_k}A smooth gap round the can would take {solved.jacket_w_k.toFixed(1)} W for each kelvin.{/if}
      </p>
      <p class="caution">{solved.caution}</p>
    </div>
    <div class="cases">
      <h2>What if</h2>
      <table>
        <thead
          ><tr
            ><th>case</th><th class="n">motor L/min</th><th class="n">water in {units.unit('temperature').unit}</th><th
              class="n">case peak</th
            ><th>at the outlet</th><th></th></tr
          ></thead
        >
        <tbody>
          {#each solved.cases as one (one.key)}
            <tr class:now={one.key === 'now'}>
              <td>{one.title}</td>
              <td class="n">{one.motor_l_min.toFixed(2)}</td>
              <td class="n">{units.show(one.motor_inlet_c, 'temperature').text}</td>
              <td class="n"
                >{units.show(one.motor_c, 'temperature').text}{#if now && one.key !== 'now'}
                  <span class="quiet"
                    >{one.motor_c - now.motor_c >= 0 ? '+' : '−'}{Math.abs(one.motor_c - now.motor_c).toFixed(0)}</span
                  >{/if}</td
              >
              <td class="seen">{one.seen}</td>
              <td
                >{#if ['controller_first', 'motor_first', 'two_lines', 'one_line'].includes(one.key)}<button
                    class="link"
                    onclick={() => draw(one.circuit)}
                    >Use this circuit<span class="visually-hidden">: {one.title}</span></button
                  >{/if}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  </div>
{:else if !water.problem}
  <p class="quiet">Working out the flow…</p>
{/if}

<style>
  .lines {
    display: grid;
    gap: 0.4rem;
    border: 1px solid var(--hair);
    background: var(--sheet);
    padding: 0.6rem;
    overflow-x: auto;
  }
  .line {
    display: flex;
    align-items: center;
    gap: 1rem;
  }
  .do,
  .edit,
  .keep {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 0.8rem;
    align-items: center;
  }
  .do {
    margin: 0.5rem 0;
    min-height: 44px;
  }
  .keep {
    margin-left: auto;
  }
  .edit input[type='number'] {
    width: 4.4rem;
  }
  .edit input[type='number'],
  select {
    padding-right: 1.6rem;
  }
  .small {
    padding: 0 0.6rem;
  }
  .below {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
    gap: 2rem;
  }
  h2 {
    margin: 0.3rem 0;
  }
  .grid {
    stroke: var(--hair);
  }
  .motor,
  .controller {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
    stroke-dasharray: 7 4;
  }
  .controller {
    stroke: var(--water);
    stroke-dasharray: 2 3;
  }
  .caution {
    border-left: 3px solid var(--ochre-mark);
    padding-left: 0.6rem;
    font-size: 0.9rem;
  }
  .now td {
    font-weight: 600;
  }
  .seen {
    font-size: 0.84rem;
  }
  @media (max-width: 900px) {
    .below {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
