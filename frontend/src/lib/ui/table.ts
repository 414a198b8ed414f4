/** The library's table, in one line of import. */
export { default as Table } from 'flowbite-svelte/Table.svelte';
export { default as TableBody } from 'flowbite-svelte/TableBody.svelte';
export { default as TableBodyCell } from 'flowbite-svelte/TableBodyCell.svelte';
export { default as TableBodyRow } from 'flowbite-svelte/TableBodyRow.svelte';
export { default as TableHead } from 'flowbite-svelte/TableHead.svelte';
export { default as TableHeadCell } from 'flowbite-svelte/TableHeadCell.svelte';
