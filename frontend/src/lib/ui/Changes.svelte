<script lang="ts">
  import type { Difference, Quantity } from '$lib/api/client';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { trimmed, units } from '$lib/units/units.svelte';

  /** What differs between two setups, in a line: KV 2200 → 2000 rpm/V. */
  let { changes, parts = {} }: { changes: Difference[]; parts?: Record<string, [string, string]> } = $props();

  function side(raw: unknown, path: string): { text: string; unit: string; guess: boolean } {
    if (raw === null || raw === undefined) return { text: 'not known', unit: '', guess: false };
    if (typeof raw === 'number') return { text: trimmed(raw), unit: '', guess: false };
    if (typeof raw === 'object') {
      const quantity = raw as Quantity;
      return { ...units.typed(quantity), guess: quantity.source === 'guessed' };
    }
    const word = boathouse.field(path)?.options?.find((option) => option.value === raw)?.label;
    return { text: word ?? String(raw), unit: '', guess: false };
  }

  /** A part that was swapped whole is one change: its name says it. */
  const swapped = $derived(Object.entries(parts));
  const single = $derived(changes.filter((c) => !(c.part in parts)));
</script>

<ul class="m-0 inline-flex list-none flex-wrap gap-x-4 gap-y-0.5 p-0">
  {#each swapped as [part, [before, after]] (part)}
    <li><span class="text-ink-2">{boathouse.kind(part)}</span> {before} → <b>{after}</b></li>
  {/each}
  {#each single as change (change.path)}
    {@const a = side(change.before, change.path)}
    {@const b = side(change.after, change.path)}
    <li>
      <span class="text-ink-2">{change.label}</span>
      <span class:guess={a.guess}>{a.text}</span> → <b class:guess={b.guess}>{b.text}</b><span class="unit"
        >{b.unit || a.unit}</span
      >
    </li>
  {/each}
</ul>
