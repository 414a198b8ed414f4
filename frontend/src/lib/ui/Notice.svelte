<script lang="ts">
  import Alert from 'flowbite-svelte/Alert.svelte';
  import type { Snippet } from 'svelte';

  /** A message that says what happened and what to do next; problems are announced. */
  let { kind = 'note', children }: { kind?: 'note' | 'problem'; children: Snippet } = $props();
</script>

<Alert
  role={kind === 'problem' ? 'alert' : 'status'}
  params={{ duration: 0 }}
  class={[
    'max-w-[70ch] leading-snug',
    kind === 'problem' ? 'border-s-6 border-double border-vermilion' : 'border-water',
  ]}
>
  {@render children()}
</Alert>
