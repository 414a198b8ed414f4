<script lang="ts">
  import Dropzone from 'flowbite-svelte/Dropzone.svelte';
  import type { Snippet } from 'svelte';

  /** The library's drop zone for one file: dropped, or chosen; the same file can be chosen twice. */
  let {
    accept,
    class: more = '',
    onfile,
    children,
  }: { accept: string; class?: string; onfile: (file: File) => void; children: Snippet } = $props();

  function first(list: FileList | null | undefined): void {
    const file = list?.[0];
    if (file) onfile(file);
  }
</script>

<Dropzone
  {accept}
  class={['drop', more]}
  onDragOver={(e) => e.preventDefault()}
  onDrop={(e) => {
    e.preventDefault();
    first(e.dataTransfer?.files);
  }}
  onChange={(e) => {
    const input = e.target as HTMLInputElement;
    first(input.files);
    input.value = '';
  }}
>
  {@render children()}
</Dropzone>
