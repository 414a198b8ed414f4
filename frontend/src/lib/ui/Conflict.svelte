<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte';

  import { conflict } from '$lib/state/conflict.svelte';

  const question = $derived(conflict.question);
</script>

<Modal
  open={question !== undefined}
  title="Changed in two places"
  aria-label="Changed in two places"
  size="md"
  class="sheet-modal"
  dismissable={false}
  outsideclose={false}
>
  {#if question}
    <p>Another person or tab changed {question.what} while you did. Which version do you want to keep?</p>
    <table>
      <thead><tr><th><span class="visually-hidden">Field</span></th><th>Yours</th><th>Theirs</th></tr></thead>
      <tbody>
        {#each question.differences as one (one.name)}
          <tr><th scope="row">{one.name}</th><td>{one.mine}</td><td>{one.theirs}</td></tr>
        {/each}
      </tbody>
    </table>
    <div class="choose">
      <button class="plain strong" onclick={() => question.answer('mine')}>Save mine</button>
      <button class="plain" onclick={() => question.answer('theirs')}>Use theirs</button>
    </div>
  {/if}
</Modal>

<style>
  th,
  td {
    vertical-align: top;
    padding: 0.3rem 0.8rem 0.3rem 0;
  }
  .choose {
    display: flex;
    gap: 0.5rem;
    margin-top: 1rem;
  }
</style>
