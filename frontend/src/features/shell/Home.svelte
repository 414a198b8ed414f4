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
    <h1>The boathouse is empty.</h1>
    <p>
      Say what your boat is and what is printed on its parts, and see what it will do. It takes about two minutes; what
      you don't know is guessed, and shown as a guess.
    </p>
    <a class="plain strong start" href="/new">First boat</a>
  </section>
{:else}
  <p class="quiet">opening the boathouse…</p>
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
