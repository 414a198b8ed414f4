<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import { onMount } from 'svelte';

  import type { Pond } from '$lib/api/client';
  import PondShape from '$lib/drawing/Pond.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { link } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import { shortDay } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import { frameOf, ShoreState } from '$lib/state/shore.svelte';

  /** The pond from above, drawn with a finger or driven round; its longest straight goes to the pass. Own drawing: no
      library draws ponds. */
  let {
    runId,
    on,
    onuse,
    onwater,
    onkept,
    first,
  }: {
    runId?: number | undefined;
    /** The day whose water is said. */
    on?: string;
    onuse?: (metres: number) => void;
    onwater?: (celsius: number) => void;
    /** Kept under a name: then nothing else is to be chosen here. */
    onkept?: () => void;
    /** The pond to begin with. */
    first?: Pond | undefined;
  } = $props();

  const shore = new ShoreState();
  onMount(() => {
    if (first) shore.take(first);
    else if (!onkept) void shore.load(on);
  });
  const water = $derived(shore.ponds.find((one) => one.name === shore.name)?.asked);

  let held = $state<number | undefined>();
  let still = $state.raw<[number, number, number, number] | undefined>();
  const frame = $derived(still ?? frameOf(shore.corners));
  const unit = $derived(frame[2] / 160);
  const across = $derived(frame[2] > 600 ? 200 : frame[2] > 250 ? 50 : 20);
  let svg = $state<SVGSVGElement>();

  function at(event: PointerEvent): [number, number] {
    const box = svg?.getBoundingClientRect();
    const scale = box ? frame[2] / box.width : 1;
    return [
      frame[0] + (event.clientX - (box?.left ?? 0)) * scale,
      frame[1] + frame[3] - (event.clientY - (box?.top ?? 0)) * scale,
    ];
  }
  function take(event: PointerEvent, k: number): void {
    held = k;
    still = frameOf(shore.corners); // the paper does not move under the finger
    svg?.setPointerCapture(event.pointerId);
    event.stopPropagation();
  }
  function pull(event: PointerEvent): void {
    if (held !== undefined) shore.move(held, at(event));
  }
  function release(event: PointerEvent): void {
    if (held === undefined && event.target instanceof Element && !event.target.closest('[data-corner]'))
      shore.add(at(event));
    held = still = undefined;
  }
  const STEPS: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  };
  function key(event: KeyboardEvent, k: number): void {
    const by = STEPS[event.key];
    const corner = shore.corners[k];
    if (event.key === 'Delete' || event.key === 'Backspace') shore.drop(k);
    else if (by && corner) shore.move(k, [corner[0] + 4 * by[0], corner[1] + 4 * by[1]]);
    else return;
    event.preventDefault();
  }
  /** Beside the last corner, for whoever has no pointer. */
  function another(): void {
    const [x, y] = shore.corners.at(-1) ?? [0, 0];
    shore.add(shore.corners.length % 2 ? [x + 60, y] : [x, y + 40]);
  }
  const straight = $derived(shore.seen?.straight);
  const y = (north: number): number => -north;
  const bank = $derived(units.text(shore.seen?.kept_off_m, 'distance'));
  const said = $derived(
    straight
      ? `Longest straight ${units.text(straight.length_m, 'distance')}, along ${Math.round(straight.bearing_deg)}° or ${Math.round((straight.bearing_deg + 180) % 360)}°, ${bank} off the bank.`
      : shore.seen
        ? `Too narrow for a straight ${bank} off the bank.`
        : 'Tap the corners of the water in order. North is up.',
  );
</script>

<div class="print:hidden">
  <svg
    bind:this={svg}
    viewBox="{frame[0]} {y(frame[1] + frame[3])} {frame[2]} {frame[3]}"
    class="block w-full max-w-160 touch-none border border-rule bg-sheet"
    role="group"
    aria-label="The pond from above"
    onpointermove={pull}
    onpointerup={release}
    onpointercancel={() => (held = still = undefined)}
  >
    <PondShape corners={shore.corners} {straight} {unit} />
    <g class="stroke-ink-2" stroke-width={unit * 0.5}>
      <path
        d="M{frame[0] + unit * 5} {y(frame[1] + unit * 4)} v{-unit * 2} m0 {unit} h{across} m0 {-unit} v{unit * 2}"
        fill="none"
      />
    </g>
    <text x={frame[0] + unit * 5} y={y(frame[1] + unit * 7.5)} class="fill-ink-2" font-size={unit * 5}
      >{units.text(across, 'distance')}</text
    >
    {#each shore.corners as [east, north], k (k)}
      <circle
        data-corner
        cx={east}
        cy={y(north)}
        r={unit * 2.2}
        class="cursor-move fill-paper stroke-ink outline-offset-2"
        stroke-width={unit * 0.8}
        role="button"
        tabindex="0"
        aria-label="Corner {k + 1}: {units.text(east, 'distance')} east, {units.text(
          north,
          'distance',
        )} north; arrow keys move it"
        onpointerdown={(e) => take(e, k)}
        onkeydown={(e) => key(e, k)}
      />
      <circle
        cx={east}
        cy={y(north)}
        r={unit * 8}
        fill="transparent"
        data-corner
        aria-hidden="true"
        onpointerdown={(e) => take(e, k)}
      />
    {/each}
  </svg>
  <p class="mt-1 mb-1" role="status">{said}</p>
  {#if shore.problem}<Notice kind="problem">{shore.problem.message}</Notice>{/if}
  <div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
    {#if straight && onuse}<Button onclick={() => onuse(Math.floor(straight.length_m))}>Use it for the pass</Button
      >{/if}
    <Button class={link} onclick={another}>Another corner</Button>
    {#if shore.corners.length}
      <Button class={link} onclick={() => shore.drop(shore.corners.length - 1)}>Undo corner</Button>
      <Button class={link} onclick={() => shore.put([], '')}>Clear</Button>
    {/if}
    {#if runId}<Button class={link} onclick={() => void shore.fromRun(runId)}>Round the last track</Button>{/if}
    {#if shore.seen}
      <Small label="keep as" wide inputmode="text" value={shore.name} onchange={(e) => (shore.name = typed(e))} />
      <Button
        class={link}
        disabled={!shore.name.trim()}
        onclick={async () => {
          if (await shore.keep()) onkept?.();
        }}>Keep</Button
      >
    {/if}
  </div>
  {#if water && onwater}
    <p class="mt-1 mb-0" data-testid="pond-water">
      Its water {on ? `on ${shortDay(on)}` : 'today'}: about {units.text(water.celsius, 'temperature', 0)}, 80 % between {units.show(
        water.low_c,
        'temperature',
        0,
      ).text} and {units.show(water.high_c, 'temperature', 0).text}.
      <Button class={link} onclick={() => onwater(water.celsius)}
        >Use {units.text(water.celsius, 'temperature', 0)}</Button
      >
    </p>
  {/if}
  {#if shore.ponds.length}
    <p class="mt-1 mb-0 flex flex-wrap items-baseline gap-x-4">
      {#each shore.ponds as one (one.name)}
        <span
          ><Button class={link} onclick={() => shore.take(one)}
            >{one.name}{one.straight ? `, ${units.text(one.straight.length_m, 'distance')}` : ''}</Button
          >
          <Button
            class={[link, 'min-h-(--target) min-w-(--target)']}
            aria-label="Forget {one.name}"
            onclick={() => void shore.forget(one.name)}>×</Button
          ></span
        >
      {/each}
    </p>
  {/if}
</div>
