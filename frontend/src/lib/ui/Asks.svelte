<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { origin } from '$lib/state/origin.svelte';
  import { link } from '$lib/ui/theme';

  /** Beside a heading: asks where the numbers below it come from. */
  let { of }: { of: string } = $props();
</script>

<Button
  class={[link, 'ms-2 min-h-6 text-[0.8rem] font-normal text-ink-2 print:hidden max-md:min-h-(--target)']}
  title="Where does this come from? (w)"
  onclick={() => origin.ask(of)}>where from?</Button
>
