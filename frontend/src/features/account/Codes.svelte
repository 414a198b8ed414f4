<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { link } from '$lib/ui/theme';

  /** Recovery codes, shown this once. */
  let { codes, done }: { codes: string[]; done: () => void } = $props();
  const text = $derived(codes.join('\n'));
</script>

<p class="m-0 max-w-[48ch]">
  Each of these codes sets a new password once, should you forget yours. They are shown only now: write them down, or
  keep the file where you keep such things.
</p>
<ul class="my-4 grid list-none grid-cols-2 gap-x-6 gap-y-1 p-0 text-lg tabular-nums" data-testid="codes">
  {#each codes as code (code)}<li>{code}</li>{/each}
</ul>
<div class="flex flex-wrap items-baseline gap-5">
  <Button onclick={done}>I have kept them</Button>
  <a
    class={link}
    download="kunstflug-recovery-codes.txt"
    href="data:text/plain;charset=utf-8,{encodeURIComponent(text)}">Save as a file</a
  >
</div>
