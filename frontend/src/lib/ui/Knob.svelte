<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';

  import type { Quantity } from '$lib/api/client';
  import type { ChangeValue } from '$lib/state/draft.svelte';
  import { row } from '$lib/ui/theme';
  import { amountOf } from '$lib/units/amount';
  import { fromSi, toSi, trimmed, unitLabel, units } from '$lib/units/units.svelte';

  /** A ruler one pulls: the value follows the hand, the saved value stays as a ghost mark. */
  let {
    label,
    value,
    tried,
    saved,
    reach,
    step,
    allowed,
    safe,
    onpull,
  }: {
    label: string;
    value: Quantity | number;
    /** What the hand asked for, which the value follows: undone before the answer came, the thumb goes back, too. */
    tried?: ChangeValue | undefined;
    saved: Quantity | number;
    /** Lowest and highest, in the value's unit. */
    reach: [number, number];
    step: number;
    /** What the core allows, in the value's unit, for a typed number. */
    allowed?: [number, number] | undefined;
    /** Between which it keeps the margins, in the value's unit. */
    safe?: [number, number] | undefined;
    onpull: (value: ChangeValue) => void;
  } = $props();

  const number = $derived(typeof value === 'number' ? value : value.value);
  const asked = $derived.by(() => {
    if (typeof tried === 'number') return tried;
    const given = tried && typeof tried === 'object' && 'unit' in tried ? (tried as Quantity) : undefined;
    if (!given || typeof value === 'number') return number;
    return given.unit === value.unit ? given.value : fromSi(toSi(given), value.unit);
  });
  const ghost = $derived(
    typeof saved === 'number' ? saved : typeof value === 'number' ? saved.value : fromSi(toSi(saved), value.unit),
  );
  const unit = $derived(typeof value === 'number' ? '' : value.unit);
  const shown = $derived(typeof value === 'number' ? { text: trimmed(value), unit: '' } : units.typed(value));
  const guess = $derived(typeof value !== 'number' && value.source === 'guessed');
  const part = (v: number): number => Math.min(Math.max((v - reach[0]) / (reach[1] - reach[0]), 0), 1) * 100;
  const at = $derived(part(ghost));
  const moved = $derived(Math.abs(number - ghost) > 1e-9);

  let editing = $state(false);
  let typed = $state('');
  const entered = $derived(amountOf(typed, unit));
  const wrong = $derived(editing && typed !== '' && !fits(entered));

  function fits(candidate: number | undefined): candidate is number {
    const [low, high] = allowed ?? reach;
    return candidate !== undefined && candidate >= low && candidate <= high;
  }
  function pull(next: number): void {
    if (typeof value === 'number') onpull(Math.round(next));
    else onpull({ value: Number(next.toPrecision(6)), unit: value.unit, source: 'typed' });
  }
  function take(): void {
    if (fits(entered)) pull(entered);
    if (!wrong) editing = false;
  }
  function focus(node: HTMLInputElement): void {
    node.focus();
    node.select();
  }
</script>

<div class="mt-1" class:moved>
  <div class="flex justify-between items-baseline gap-2">
    <span class="text-[0.84rem] text-ink-2 font-stretch-[80%]">{label}</span>
    {#if editing}
      <span class="flex items-baseline gap-1">
        <Input
          inputmode="text"
          aria-label="{label} in {unitLabel(unit) || 'pieces'}"
          aria-invalid={wrong}
          bind:value={typed}
          {@attach focus}
          onblur={take}
          onkeydown={(e) => {
            if (e.key === 'Enter') take();
            if (e.key === 'Escape') {
              typed = '';
              editing = false;
            }
            e.stopPropagation();
          }}
          class="min-h-7 w-22! border border-ink px-1 text-right"
        />
        <span class="unit">{unitLabel(unit)}</span>
      </span>
    {:else}
      <Button
        title="Type a number"
        onclick={() => {
          typed = String(number);
          editing = true;
        }}
        class={[
          row,
          'min-h-7 border-b border-dotted border-b-rule px-0.5 font-semibold hover:no-underline',
          moved && 'text-water',
        ]}
        ><span class:guess>{shown.text}</span><span class="unit">{shown.unit}</span><span class="visually-hidden"
          >, type {label}</span
        ></Button
      >
    {/if}
  </div>
  {#if wrong}
    <p class="my-0.5 text-[0.82rem] text-vermilion" role="alert">
      allowed: {trimmed((allowed ?? reach)[0])} to {trimmed((allowed ?? reach)[1])}
      {unitLabel(unit)}
    </p>
  {/if}
  <div class="rule">
    {#if safe}
      <span
        class="pointer-events-none absolute top-[55%] h-[5px] bg-water/40"
        style:left="{part(safe[0])}%"
        style:width="{part(safe[1]) - part(safe[0])}%"
        title="keeps the margins: {trimmed(safe[0])} to {trimmed(safe[1])} {unitLabel(unit)}"
      ></span>
    {/if}
    <span
      class="absolute top-[12%] h-[76%] border-l-2 border-dashed border-l-ghost pointer-events-none"
      style:left="{at}%"
      title="Saved: {trimmed(ghost)} {unitLabel(unit)}"
    ></span>
    <input
      type="range"
      aria-label={label}
      aria-valuetext="{shown.text} {shown.unit}"
      min={reach[0]}
      max={reach[1]}
      {step}
      value={asked}
      oninput={(e) => pull(Number(e.currentTarget.value))}
    />
  </div>
</div>

<style>
  .rule {
    position: relative;
    height: calc(var(--target) * 0.62);
    background:
      repeating-linear-gradient(90deg, var(--rule) 0 1px, transparent 1px 10%) 0 60% / 100% 7px no-repeat,
      linear-gradient(var(--ink), var(--ink)) 0 60% / 100% 1px no-repeat;
  }
  input[type='range'] {
    appearance: none;
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    margin: 0;
    background: transparent;
    cursor: ew-resize;
  }
  input[type='range']::-webkit-slider-thumb {
    appearance: none;
    width: 13px;
    height: calc(var(--target) * 0.5);
    background: var(--ink);
    border: 3px solid var(--paper);
    border-radius: 3px;
    box-sizing: content-box;
  }
  input[type='range']::-moz-range-thumb {
    width: 11px;
    height: 20px;
    background: var(--ink);
    border: 3px solid var(--paper);
    border-radius: 3px;
  }
  .moved input[type='range']::-webkit-slider-thumb {
    background: var(--water);
  }
</style>
