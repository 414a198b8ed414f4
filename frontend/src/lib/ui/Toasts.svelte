<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Toast from 'flowbite-svelte/Toast.svelte';

  import { toasts } from '$lib/state/toasts.svelte';
  import { link } from '$lib/ui/theme';
</script>

<div
  class="fixed right-4 bottom-4 z-40 grid justify-items-end gap-2 max-md:inset-x-3 max-md:bottom-20"
  role="status"
  aria-live="polite"
>
  {#each toasts.shown as toast (toast.id)}
    <Toast dismissable={false}>
      <span class="me-3">{toast.text}</span>
      {#if toast.undo}<Button onclick={() => toasts.undo(toast)} class={[link, 'me-3 text-paper hover:text-water-pale']}
          >Undo</Button
        >{/if}
      <Button
        aria-label="Dismiss"
        onclick={() => toasts.drop(toast.id)}
        class={[link, 'text-paper no-underline hover:text-water-pale']}>×</Button
      >
    </Toast>
  {/each}
</div>
