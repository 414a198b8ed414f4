<script lang="ts">
  import type { Heat } from '$lib/api/client';
  import HeatStrips from '$lib/charts/HeatStrips.svelte';
  import Asks from '$lib/ui/Asks.svelte';
  import DutyForm from '$lib/ui/DutyForm.svelte';
  import Wait from '$lib/ui/Wait.svelte';

  /** Temperatures through the duty, and the duty itself. */
  let { heat, onchange }: { heat: Heat | undefined; onchange: () => void } = $props();
</script>

<DutyForm {onchange} />
<p class="m-0"><Asks of="heat.case" /></p>
{#if heat}<HeatStrips {heat} />{:else}<Wait>Working out temperatures…</Wait>{/if}
