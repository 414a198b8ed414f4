<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';

  import { conflict } from '$lib/state/conflict.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';

  const question = $derived(conflict.question);
</script>

<Modal
  open={question !== undefined}
  title="Changed in two places"
  aria-label="Changed in two places"
  size="md"
  dismissable={false}
  outsideclose={false}
>
  {#if question}
    <p>Another person or tab changed {question.what} while you did. Which version do you want to keep?</p>
    <Table>
      <TableHead
        ><TableHeadCell><span class="visually-hidden">Field</span></TableHeadCell><TableHeadCell>Yours</TableHeadCell
        ><TableHeadCell>Theirs</TableHeadCell></TableHead
      >
      <TableBody>
        {#each question.differences as one (one.name)}
          <TableBodyRow
            ><TableHeadCell scope="row">{one.name}</TableHeadCell><TableBodyCell>{one.mine}</TableBodyCell
            ><TableBodyCell>{one.theirs}</TableBodyCell></TableBodyRow
          >
        {/each}
      </TableBody>
    </Table>
    <div class="mt-4 flex gap-2">
      <Button onclick={() => question.answer('mine')}>Save mine</Button>
      <Button color="alternative" onclick={() => question.answer('theirs')}>Use theirs</Button>
    </div>
  {/if}
</Modal>
