<script lang="ts">
  import type { Heat } from '$lib/api/client';
  import HeatStrips from '$lib/charts/HeatStrips.svelte';
  import DutyForm from '$lib/ui/DutyForm.svelte';

  /** Temperatures through the duty, and the duty itself. */
  let { heat, onchange }: { heat: Heat | undefined; onchange: () => void } = $props();
</script>

<DutyForm {onchange} />
{#if heat}<HeatStrips {heat} />{:else}<p class="quiet">Working out temperatures…</p>{/if}
