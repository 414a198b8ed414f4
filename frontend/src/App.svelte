<script lang="ts">
  import { Router } from 'sv-router';

  import './routes';
  import '$lib/state/theme.svelte';
  import Hatches from '$lib/drawing/Hatches.svelte';
</script>

<Hatches />
<Router />
