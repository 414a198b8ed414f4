<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte';

  let { open = $bindable(false) }: { open?: boolean } = $props();

  const COMMANDS: [string, string][] = [
    ['1', 'Aim: what for?'],
    ['2', 'Match: what will it do?'],
    ['3', 'Fit: does it go together?'],
    ['5', 'Run: what did it do?'],
    ['6', 'Compare: was it the change?'],
    ['[ ]', 'Step through the single changes'],
    ['Enter', 'Save the draft as a new setup'],
    ['Ctrl Z', 'Undo the last change'],
    ['Esc', 'Discard the draft'],
    ['← →', 'Move the focused knob one step'],
    ['/', 'Find a part on the shelf'],
    ['m', 'bench instruments'],
    ['b', 'new boat'],
    ['u', 'metric or imperial'],
    ['t', 'paper or bright sun'],
    ['?', 'this list'],
  ];
</script>

<Modal bind:open title="Commands" size="sm" class="sheet-modal">
  <dl>
    {#each COMMANDS as [key, what] (key)}
      <dt><kbd>{key}</kbd></dt>
      <dd>{what}</dd>
    {/each}
  </dl>
</Modal>

<style>
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 0.5rem 1rem;
    margin: 0;
  }
  dd {
    margin: 0;
  }
  kbd {
    border: 1px solid var(--ink);
    padding: 0.05rem 0.45rem;
    font-family: inherit;
    font-weight: 600;
    white-space: nowrap;
  }
</style>
