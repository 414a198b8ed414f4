<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, pathTo } from '$lib/state/go';
  import Wait from '$lib/ui/Wait.svelte';

  const first = $derived(boathouse.boats[0]);
  $effect(() => {
    if (first) go(pathTo('match', first.setup_id), { replace: true });
  });
</script>

{#if boathouse.state === 'ready' && !first}
  <section class="max-w-[46ch] px-4 py-12">
    <h1>No boats yet</h1>
    <p>
      Enter your boat and what is printed on its parts, and see what it will do. It takes about two minutes; whatever
      you don't know is estimated and marked as a guess.
    </p>
    <Button href="/new" class="mt-4 no-underline">Add your first boat</Button>
  </section>
{:else}
  <Wait>Loading boats…</Wait>
{/if}
