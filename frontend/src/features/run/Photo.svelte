<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Fileupload from 'flowbite-svelte/Fileupload.svelte';
  import Label from 'flowbite-svelte/Label.svelte';

  import { fileAt } from '$lib/api/client';
  import { link } from '$lib/ui/theme';

  import type { RunState } from './run.svelte';

  /** A picture of the boat or of the damage; the server takes place and time out of it. */
  let { state: runs }: { state: RunState } = $props();
</script>

{#if runs.run}
  {#if runs.run.photo}
    <figure class="m-0 max-w-[28rem]">
      <img src={fileAt(`/api/runs/${runs.run.id}/photo.jpg?${runs.pictures}`)} alt="Taken at this run" class="w-full" />
      <figcaption class="text-[0.92rem]">
        <Button class={link} onclick={() => runs.dropPicture()}>Remove the picture</Button>
      </figcaption>
    </figure>
  {:else}
    <Label class="block max-w-[24rem]">
      A picture
      <Fileupload
        accept="image/jpeg,image/png,image/webp"
        onchange={(e: Event) => {
          const file = (e.target as HTMLInputElement).files?.[0];
          if (file) void runs.putPicture(file);
        }}
      />
      <span class="quiet text-sm">It is made smaller, and where it was taken is left out.</span>
    </Label>
  {/if}
{/if}
