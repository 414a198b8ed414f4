<script lang="ts">
  import { units } from '$lib/units/units.svelte';

  /** One number with its unit; a guess looks like one. */
  let {
    value,
    dimension,
    digits,
    guess = false,
  }: { value: number | null | undefined; dimension: string; digits?: number; guess?: boolean } = $props();

  const shown = $derived(units.show(value, dimension, digits));
</script>

<span class={['whitespace-nowrap', guess && 'guess']}>{shown.text}<span class="unit">{shown.unit}</span></span>
