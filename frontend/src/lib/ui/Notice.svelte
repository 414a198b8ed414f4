<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A message that says what happened and what to do next; problems are announced. */
  let { kind = 'note', children }: { kind?: 'note' | 'problem'; children: Snippet } = $props();
</script>

<div class="notice {kind}" role={kind === 'problem' ? 'alert' : 'status'}>
  {@render children()}
</div>

<style>
  .notice {
    border-left: 4px solid var(--water);
    background: var(--sheet);
    padding: 0.6rem 0.9rem;
    margin: 0.6rem 0;
    line-height: 1.4;
    max-width: 70ch;
  }
  .problem {
    border-left: 6px double var(--vermilion);
  }
</style>
