<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Drawer from 'flowbite-svelte/Drawer.svelte';
  import Tooltip from 'flowbite-svelte/Tooltip.svelte';
  import { onMount, type Snippet } from 'svelte';

  import { boathouse } from '$lib/state/boathouse.svelte';
  import { conflict } from '$lib/state/conflict.svelte';
  import { go, MARKS, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { manage } from '$lib/state/manage.svelte';
  import { origin } from '$lib/state/origin.svelte';
  import { theme } from '$lib/state/theme.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { theme as controls } from '$lib/ui/theme';
  import Toasts from '$lib/ui/Toasts.svelte';
  import { units } from '$lib/units/units.svelte';

  import Boathouse from './Boathouse.svelte';
  import BoatList from './BoatList.svelte';
  import CourseLine from './CourseLine.svelte';
  import * as later from './later';
  import LinkStrip from './LinkStrip.svelte';
  import Name from '$lib/ui/Name.svelte';
  import NewsStrip from './NewsStrip.svelte';
  import Once from './Once.svelte';
  import ShareStrip from './ShareStrip.svelte';
  import Welcome from './Welcome.svelte';

  let { children }: { children: Snippet } = $props();
  let commands = $state(false);
  let keys = $state(false);
  let boats = $state(false);

  onMount(() => void boathouse.load());

  function typing(target: EventTarget | null): boolean {
    return (
      target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
    );
  }

  function onkeydown(event: KeyboardEvent): void {
    if ((event.ctrlKey || event.metaKey) && event.key === 'k') {
      event.preventDefault();
      commands = true;
      return;
    }
    const range = event.target instanceof HTMLInputElement && event.target.type === 'range';
    if ((typing(event.target) && !range) || event.ctrlKey || event.metaKey || event.altKey) return;
    const mark = MARKS.find((m) => m.key === event.key);
    if (mark && here.boat) go(pathTo(mark.mark, here.setupId ?? here.boat.setup_id));
    else if (event.key === 'u') units.switch();
    else if (event.key === 't') theme.switch();
    else if (event.key === 'b') go('/new');
    else if (event.key === '/') go('/shelf');
    else if (event.key === 'l') go('/logbook');
    else if (event.key === 'w') origin.ask();
    else if (event.key === 'm') go('/measure');
    else if (event.key === '?') keys = !keys;
    else return;
    event.preventDefault();
  }

  const tool =
    'min-w-(--target) border-transparent px-2 text-[0.86rem] font-normal text-ink-2 font-stretch-[80%] hover:border-rule hover:bg-transparent hover:text-ink';
</script>

<svelte:window {onkeydown} />

<a
  class="skip sr-only focus:not-sr-only focus:absolute focus:top-2 focus:left-2 focus:z-10 focus:bg-paper focus:p-2"
  href="#sheet">Skip to content</a
>
<div class="frame grid min-h-dvh grid-cols-[172px_minmax(0,1fr)] max-md:block">
  <Boathouse />
  <div class="min-w-0">
    <header class="flex items-stretch justify-between gap-3 border-b border-ink px-6 max-md:px-2">
      <Button
        color="alternative"
        class="my-1 min-w-0 border-transparent px-2 font-semibold md:hidden"
        aria-haspopup="dialog"
        onclick={() => (boats = true)}
      >
        <svg viewBox="0 0 20 14" width="20" height="14" class="me-2 flex-none stroke-ink stroke-2" aria-hidden="true">
          <path d="M1 2h18M1 7h18M1 12h18" />
        </svg>
        <span class="truncate">{here.boat?.name ?? 'Boats'}</span>
      </Button>
      <CourseLine />
      <div class="flex flex-none items-center gap-0.5">
        <Button color="alternative" class={tool} onclick={() => units.switch()}>
          {units.system === 'metric' ? 'metric' : 'imperial'}
        </Button>
        <Tooltip class={controls.tooltip as string} type="custom" placement="bottom">Switch units (u)</Tooltip>
        <Button color="alternative" class={tool} onclick={() => theme.switch()}>
          {theme.look === 'paper' ? 'bright sun' : 'paper'}
        </Button>
        <Tooltip class={controls.tooltip as string} type="custom" placement="bottom">Switch the look (t)</Tooltip>
        <Button color="alternative" class={tool} onclick={() => (commands = true)} aria-label="Find a command or a boat"
          >find…</Button
        >
        <Tooltip class={controls.tooltip as string} type="custom" placement="bottom"
          >Find a command or a boat (Ctrl K); all keys (?)</Tooltip
        >
      </div>
    </header>
    <LinkStrip />
    <ShareStrip />
    <NewsStrip />
    <Welcome />
    <main id="sheet" tabindex="-1" class="px-6 pt-4 pb-12 outline-none max-md:px-3 max-md:pt-3 max-md:pb-20">
      {#if boathouse.state === 'failed'}
        <Notice kind="problem">
          {boathouse.problem?.message}
          <Button color="alternative" onclick={() => boathouse.load()}>Try again</Button>
        </Notice>
      {:else}
        <!-- Sentences come in the racer's units: another system asks for them anew. -->
        {#key units.system}{@render children()}{/key}
      {/if}
    </main>
  </div>
</div>
<Drawer
  bind:open={boats}
  aria-label="Boats"
  class="flex flex-col overflow-y-auto border-y-0 border-s-0 border-ink bg-sheet p-0"
>
  <Name />
  <BoatList onpick={() => (boats = false)} />
</Drawer>
<!-- What opens over the sheet comes when it is asked for. -->
{#if commands}
  <!-- Not kept as the others are: while it is there it listens to Ctrl K itself, and would close what that just opened. -->
  {#await later.commands() then { default: Commands }}<Commands bind:open={commands} />{/await}
{/if}
<Once open={keys} from={later.keys}>
  {#snippet children(Keys)}<Keys bind:open={keys} />{/snippet}
</Once>
<Once open={origin.open} from={later.origin}>
  {#snippet children(Origin)}<Origin />{/snippet}
</Once>
<Once open={manage.subject !== undefined} from={later.manage}>
  {#snippet children(Manage)}<Manage />{/snippet}
</Once>
<Once open={conflict.question !== undefined} from={later.conflict}>
  {#snippet children(Conflict)}<Conflict />{/snippet}
</Once>
<Toasts />
