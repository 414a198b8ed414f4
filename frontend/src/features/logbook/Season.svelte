<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  import type { Logbook } from '$lib/api/client';
  import Frame from '$lib/charts/Frame.svelte';
  import { unitTicks } from '$lib/charts/ticks';
  import { day } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import { dots, months, records } from './season';

  /** A season at a glance: every run a dot, each boat's best as steps, what broke as a cross. */
  let { book, boat }: { book: Logbook; boat?: number | undefined } = $props();

  let width = $state(800);
  const HEIGHT = 200;
  const BOX = { left: 48, right: 84, top: 12, bottom: 40 };

  const season = $derived(book.season.filter((run) => !boat || run.boat_id === boat));
  const times = $derived(season.map((run) => Date.parse(run.at)));
  const DAY_MS = 86_400_000;
  const from = $derived(Math.min(...times) - 2 * DAY_MS);
  const to = $derived(Math.max(...times) + 2 * DAY_MS);
  const top = $derived(Math.max(...season.map((run) => run.best_mps ?? 0), 1) * 1.12);
  const x = $derived(scaleLinear([from, to], [BOX.left, width - BOX.right]));
  const y = $derived(scaleLinear([0, top], [HEIGHT - BOX.bottom, BOX.top]));
  const laid = $derived(dots(season, x, y, HEIGHT - BOX.bottom));
  const boats = $derived(book.boats.filter((b) => laid.some((dot) => dot.boat === b.boat_id)));
  const name = (id: number): string => book.boats.find((b) => b.boat_id === id)?.name ?? '';
  const HUES = ['text-water', 'text-ink', 'text-ochre', 'text-ink-2'];
  const hue = (id: number): string => HUES[book.boats.findIndex((b) => b.boat_id === id) % HUES.length] ?? 'text-ink';
  const short = $derived(to - from < 40 * DAY_MS);
  const xMarks = $derived(
    short
      ? x.ticks(5).map((at) => ({ px: x(at), text: day(new Date(at).toISOString()).replace(/ \d{4}$/, '') }))
      : months(from, to, width / 70).map((m) => ({ px: x(m.at), text: m.text })),
  );
  const steps = (id: number): string => {
    const best = records(laid, id);
    const line = best.map((dot, k) => (k ? `H${dot.x}V${dot.y}` : `M${dot.x} ${dot.y}`)).join('');
    return best.length ? `${line}H${width - BOX.right}` : '';
  };
  /** Names at the right, moved apart where two boats are equally fast. */
  const names = $derived.by(() => {
    const rows = boats
      .map((b) => ({ id: b.boat_id, name: b.name, y: records(laid, b.boat_id).at(-1)?.y }))
      .filter((row): row is { id: number; name: string; y: number } => row.y !== undefined)
      .sort((a, b) => a.y - b.y);
    rows.forEach((row, k) => (row.y = Math.max(row.y, (rows[k - 1]?.y ?? -Infinity) + 15)));
    return rows;
  });
</script>

{#if season.length}
  <Frame
    label={`${season.length} runs of ${boats.length} boats over the season, with each boat's best`}
    name="Season"
    bind:width
    height={HEIGHT}
    box={BOX}
    x={xMarks}
    y={unitTicks([0, top], 'speed', 4).map((t) => ({ px: y(t.at), text: t.text }))}
    xLabel=""
    yLabel={units.unit('speed').unit}
    columns={['Day', 'Boat', 'Best']}
    readings={laid.map((dot) => ({
      px: dot.x,
      cells: [day(dot.at), name(dot.boat), dot.mps === null ? 'no speed' : units.text(dot.mps, 'speed', 0)],
    }))}
    keys={laid.some((dot) => dot.broke) ? [{ sign: 'cross', words: 'something broke, or it stopped' }] : []}
  >
    {#each boats as one (one.boat_id)}
      <path d={steps(one.boat_id)} fill="none" stroke="currentColor" stroke-width="1.4" class={hue(one.boat_id)} />
    {/each}
    {#each laid as dot (dot.id)}
      {#if dot.broke}
        <path
          d={`M${dot.x - 4} ${dot.y - 4}l8 8m0-8l-8 8`}
          class="text-vermilion"
          stroke="currentColor"
          stroke-width="2"
          fill="none"
        />
      {:else}
        <circle cx={dot.x} cy={dot.y} r="3.2" fill="currentColor" class={hue(dot.boat)} />
      {/if}
    {/each}
    {#each names as row (row.id)}
      <text x={width - BOX.right + 6} y={row.y + 4} fill="currentColor" class={['text-[0.82rem]', hue(row.id)]}
        >{row.name}</text
      >
    {/each}
  </Frame>
{/if}
