<script lang="ts">
  import ThemeProvider from 'flowbite-svelte/ThemeProvider.svelte';
  import { Router } from 'sv-router';

  import Hatches from '$lib/drawing/Hatches.svelte';
  import { account } from '$lib/state/account.svelte';
  import '$lib/state/theme.svelte';
  import { theme } from '$lib/ui/theme';

  import { gate } from '$features/shell/later';

  import './routes';
</script>

<Hatches />
<ThemeProvider {theme}>
  {#if account.shut}
    {#await gate() then { default: Gate }}<Gate />{/await}
  {:else}
    <Router />
  {/if}
</ThemeProvider>
