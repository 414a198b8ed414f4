<script lang="ts">
  import Kbd from 'flowbite-svelte/Kbd.svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';

  let { open = $bindable(false) }: { open?: boolean } = $props();

  const KEYS: [string, string][] = [
    ['1', 'Aim: what for?'],
    ['2', 'Match: what will it do?'],
    ['3', 'Fit: does it go together?'],
    ['5', 'Run: what did it do?'],
    ['6', 'Compare: was it the change?'],
    ['[ ]', 'Step through the changes'],
    ['Enter', 'Save the draft as a new setup'],
    ['Ctrl Z', 'Undo the last change'],
    ['Esc', 'Discard the draft'],
    ['← →', 'Move the focused knob one step'],
    ['w', 'Where does a number come from?'],
    ['Ctrl K', 'Find a command or a boat'],
    ['/', 'Find a part on the shelf'],
    ['l', 'Logbook'],
    ['m', 'Bench instruments'],
    ['b', 'New boat'],
    ['u', 'Metric or imperial'],
    ['t', 'Paper or bright sun'],
    ['?', 'This list'],
  ];
</script>

<Modal bind:open title="Keys" aria-label="Keys" size="sm">
  <dl class="m-0 grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-1.5">
    {#each KEYS as [key, what] (key)}
      <dt><Kbd class="whitespace-nowrap">{key}</Kbd></dt>
      <dd class="m-0">{what}</dd>
    {/each}
  </dl>
</Modal>
