<script lang="ts">
  import Toast from 'flowbite-svelte/Toast.svelte';

  import { toasts } from '$lib/state/toasts.svelte';
</script>

<div class="pile" role="status" aria-live="polite">
  {#each toasts.shown as toast (toast.id)}
    <Toast dismissable={false} class="sheet-toast">
      <span>{toast.text}</span>
      {#if toast.undo}<button class="link" onclick={() => toasts.undo(toast)}>Undo</button>{/if}
      <button class="link quiet" aria-label="Dismiss" onclick={() => toasts.drop(toast.id)}>×</button>
    </Toast>
  {/each}
</div>

<style>
  .pile {
    position: fixed;
    right: 1rem;
    bottom: 1rem;
    z-index: 40;
    display: grid;
    gap: 0.5rem;
    justify-items: end;
  }
  @media (max-width: 760px) {
    .pile {
      left: 0.75rem;
      right: 0.75rem;
      bottom: 5rem;
    }
  }
</style>
