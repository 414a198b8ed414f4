<script lang="ts">
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, pathTo } from '$lib/state/go';

  const first = $derived(boathouse.boats[0]);
  $effect(() => {
    if (first) go(pathTo('match', first.setup_id));
  });
</script>

{#if boathouse.state === 'ready' && !first}
  <section class="empty">
    <h1>No boats yet</h1>
    <p>
      Enter your boat and what is printed on its parts, and see what it will do. It takes about two minutes; whatever
      you don't know is estimated and marked as a guess.
    </p>
    <a class="plain strong start" href="/new">Add your first boat</a>
  </section>
{:else}
  <p class="quiet">Loading boats…</p>
{/if}

<style>
  .empty {
    max-width: 46ch;
    padding: 3rem 1rem;
  }
  h1 {
    font-size: 2rem;
  }
  .start {
    display: inline-flex;
    align-items: center;
    text-decoration: none;
    margin-top: 1rem;
  }
</style>
