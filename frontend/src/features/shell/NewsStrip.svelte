<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { account } from '$lib/state/account.svelte';
  import { moment } from '$lib/units/day';
  import { link } from '$lib/ui/theme';

  /** What was done with the keys of one's account since this browser last said so: there is no mail that would tell. */
</script>

{#if account.news.length}
  <div role="status" class="border-b border-ink bg-sheet px-6 py-2 max-md:px-3">
    {#each account.news as one (one.at + one.what)}
      <p class="m-0">
        <b>{moment(one.at)}</b>: {one.what}{one.words ? ` (${one.words})` : ''}{one.address
          ? `, from ${one.address}`
          : ''}.
      </p>
    {/each}
    <p class="m-0">
      Was it not you? <a href="/settings" class="font-semibold">Look at your account</a>.
      <Button class={link} onclick={() => account.readNews()}>It was me</Button>
    </p>
  </div>
{/if}
