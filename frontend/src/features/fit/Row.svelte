<script lang="ts">
  import type { Piece, SolvedCircuit } from '$lib/api/client';

  import type { Path } from './circuit';
  import Row from './Row.svelte';

  /** One row of pieces, drawn along the water: focus one, arrows move it, Delete takes it out. */
  let {
    row,
    path,
    solved,
    at,
    onpick,
    onmove,
    onremove,
  }: {
    row: Piece[];
    path: Path;
    solved: SolvedCircuit | undefined;
    at: string;
    onpick: (path: Path) => void;
    onmove: (path: Path, by: 1 | -1) => void;
    onremove: (path: Path) => void;
  } = $props();

  const NAMES: Record<string, string> = {
    pickup: 'pickup',
    hose: 'hose',
    motor: 'motor',
    controller: 'controller',
    y: 'Y',
    outlet: 'outlet',
  };
  const places = $derived(new Map((solved?.places ?? []).map((p) => [p.path.join('.'), p])));
  let pulled = $state<{ key: string; x: number } | undefined>();

  function onkeydown(event: KeyboardEvent, own: Path): void {
    if (event.key === 'ArrowRight') onmove(own, 1);
    else if (event.key === 'ArrowLeft') onmove(own, -1);
    else if (event.key === 'Delete' || event.key === 'Backspace') onremove(own);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function onpointermove(event: PointerEvent, own: Path): void {
    if (!pulled || pulled.key !== own.join('.')) return;
    const by = event.clientX - pulled.x;
    if (Math.abs(by) > 70) {
      onmove(own, by > 0 ? 1 : -1);
      pulled = undefined;
    }
  }
</script>

<div class="row">
  {#each row as piece, k (`${piece.kind}-${k}`)}
    {@const own = [...path, k]}
    {@const key = own.join('.')}
    {@const place = places.get(key)}
    {#if piece.branches?.length}
      <div class="split">
        <button class="piece y" class:at={key === at} onclick={() => onpick(own)} onkeydown={(e) => onkeydown(e, own)}>
          <svg width="26" height="40" viewBox="0 0 26 40" aria-hidden="true"
            ><path d="M0 20 H8 L20 6 H26 M8 20 L20 34 H26" class="pipe" /></svg
          >
          <span class="name">{piece.joins ? 'Y' : 'Y, own outlets'}</span>
        </button>
        <div class="branches">
          {#each piece.branches as branch, b (b)}
            <Row row={branch} path={[...own, b]} {solved} {at} {onpick} {onmove} {onremove} />
          {/each}
        </div>
      </div>
    {:else}
      <button
        class="piece {piece.kind.split(' ')[0]}"
        class:at={key === at}
        aria-pressed={key === at}
        aria-label="{NAMES[piece.kind]}{place
          ? `, ${place.flow_l_min.toFixed(2)} litres a minute`
          : ''}; arrows move it"
        onclick={() => onpick(own)}
        onkeydown={(e) => onkeydown(e, own)}
        onpointerdown={(e) => (pulled = { key, x: e.clientX })}
        onpointermove={(e) => onpointermove(e, own)}
        onpointerup={() => (pulled = undefined)}
      >
        <svg width="74" height="40" viewBox="0 0 74 40" aria-hidden="true">
          <path d="M0 20 H74" class="pipe" style:stroke-width={2 + (piece.bore_mm ?? 4)} />
          {#if piece.kind === 'pickup'}<path d="M8 36 C8 24 16 20 30 20" class="pipe" /><path
              d="M2 38 q6 -5 12 0 t12 0"
              class="wave"
            />
          {:else if piece.kind === 'motor'}<rect x="12" y="7" width="50" height="26" class="block" /><path
              d="M18 7 v26 M26 7 v26 M34 7 v26 M42 7 v26 M50 7 v26"
              class="fins"
            />
          {:else if piece.kind === 'controller'}<rect x="14" y="9" width="46" height="22" class="block" /><path
              d="M22 14 h30 M22 20 h30 M22 26 h30"
              class="fins"
            />
          {:else if piece.kind === 'outlet'}<path d="M40 20 q14 0 22 14 M40 20 q10 2 14 14" class="wave" />{/if}
          {#if (piece.open_part ?? 1) < 1}<path d="M34 8 l6 24 M40 8 l-6 24" class="shut" />{/if}
        </svg>
        <span class="name"
          >{NAMES[piece.kind]}{piece.kind === 'hose' ? ` ${piece.bore_mm} × ${piece.length_mm}` : ''}</span
        >
        {#if place}<span class="flow"
            >{place.flow_l_min.toFixed(2)} L/min<br />{place.after_kpa.toFixed(1)} kPa · {place.after_c.toFixed(1)} °C</span
          >{/if}
      </button>
    {/if}
  {/each}
</div>

<style>
  .row,
  .split {
    display: flex;
    align-items: center;
    flex-wrap: wrap;
  }
  .branches {
    display: grid;
    gap: 0.3rem;
    border-left: 1px dashed var(--water);
  }
  .piece {
    display: grid;
    justify-items: center;
    align-content: start;
    width: 92px;
    padding: 0.2rem 0;
    border: 1px solid transparent;
    touch-action: none;
    min-height: 92px;
  }
  .piece.y {
    width: 60px;
    min-height: 60px;
  }
  .piece.at {
    border-color: var(--ink);
    background: var(--sheet);
  }
  .pipe {
    fill: none;
    stroke: var(--water);
    stroke-width: 4;
  }
  .wave {
    fill: none;
    stroke: var(--water);
    stroke-width: 1.6;
  }
  .block {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.5;
  }
  .fins {
    stroke: var(--ink-2);
    stroke-width: 0.8;
  }
  .shut {
    stroke: var(--vermilion);
    stroke-width: 2;
  }
  .name {
    font-size: 0.84rem;
    font-weight: 500;
    font-stretch: 82%;
  }
  .flow {
    font-size: 0.74rem;
    color: var(--ink-2);
    font-stretch: 80%;
    line-height: 1.2;
    text-align: center;
  }
</style>
