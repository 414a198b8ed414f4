<script lang="ts">
  import Sidebar from 'flowbite-svelte/Sidebar.svelte';

  import BoatList from './BoatList.svelte';
  import Name from '$lib/ui/Name.svelte';
</script>

<Sidebar
  alwaysOpen
  position="static"
  ariaLabel="Boats and shelf"
  class="house sticky! top-0 z-0 h-dvh w-auto overflow-y-auto border-e border-ink bg-sheet max-md:hidden! print:hidden!"
  classes={{ div: 'h-full bg-transparent p-0 static w-auto' }}
>
  <nav aria-label="Boathouse" class="flex min-h-full flex-col">
    <Name />
    <BoatList />
  </nav>
</Sidebar>
