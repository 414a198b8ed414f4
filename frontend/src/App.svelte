<script lang="ts">
  import ThemeProvider from 'flowbite-svelte/ThemeProvider.svelte';
  import { Router } from 'sv-router';

  import Hatches from '$lib/drawing/Hatches.svelte';
  import '$lib/state/theme.svelte';
  import { theme } from '$lib/ui/theme';

  import './routes';
</script>

<Hatches />
<ThemeProvider {theme}>
  <Router />
</ThemeProvider>
