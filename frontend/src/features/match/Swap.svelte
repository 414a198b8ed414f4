<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';

  import { api, ask, Problem, type PartView, type Schemas, type SetupDocument } from '$lib/api/client';
  import Notice from '$lib/ui/Notice.svelte';
  import { row } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';
  import { trimmed, unitLabel, units } from '$lib/units/units.svelte';

  /** The shelf, for one kind of part: pick one and see at once what it does. */
  let {
    kind,
    document,
    open = $bindable(false),
    onpick,
  }: { kind: string; document: SetupDocument; open?: boolean; onpick: (part: PartView) => void } = $props();

  let parts = $state.raw<Schemas['SwapView'][]>([]);
  let problem = $state<Problem | undefined>();
  let words = $state('');
  let phase = $state<'loading' | 'ready'>('loading');

  async function load(kind: string): Promise<void> {
    phase = 'loading';
    try {
      parts = await ask(api.POST('/api/parts/swaps', { body: { document, kind } }));
      problem = undefined;
    } catch (error) {
      problem = error as Problem;
    }
    phase = 'ready';
  }
  $effect(() => {
    if (open) void load(kind);
  });

  const found = $derived(
    parts.filter(({ part }) =>
      words
        .toLowerCase()
        .split(/\s+/)
        .every((word) => part.name.toLowerCase().includes(word) || facts(part).toLowerCase().includes(word)),
    ),
  );

  function facts(part: PartView): string {
    const shown: string[] = [];
    for (const [key, raw] of Object.entries(part.document)) {
      if (key === 'name' || raw === null) continue;
      const label = key.replaceAll('_', ' ');
      if (typeof raw === 'object') {
        const q = units.typed(raw as { value: number; unit: string });
        shown.push(`${label} ${q.text} ${q.unit}`.trim());
      } else shown.push(typeof raw === 'number' ? `${label} ${trimmed(raw)}` : `${unitLabel(String(raw))}`);
    }
    return shown.join(' · ');
  }
</script>

<Modal bind:open title="{kind[0]?.toUpperCase()}{kind.slice(1)} from the shelf" size="md">
  {#if problem}
    <Notice kind="problem"
      >{problem.message} <Button color="alternative" onclick={() => load(kind)}>Try again</Button></Notice
    >
  {:else if phase === 'loading'}
    <Wait>Loading parts…</Wait>
  {:else if !parts.length}
    <Notice>No {kind} on the shelf yet. Parts come onto it with each new boat.</Notice>
  {:else}
    <Input bind:value={words} aria-label="Find by size or name" placeholder="Find by size or name" />
    <ul class="list-none m-0 p-0">
      {#each found as { part, wall } (part.id)}
        <li>
          <Button
            disabled={Boolean(wall)}
            onclick={() => {
              open = false;
              onpick(part);
            }}
            class={[
              row,
              'grid w-full justify-items-start border-b border-b-hair px-1.5 py-2 hover:bg-sheet hover:no-underline',
            ]}
          >
            <b>{part.name}</b>
            <span class="text-[0.85rem] font-normal text-ink-2 font-stretch-[85%]">{facts(part)}</span>
            {#if wall}<span class="text-[0.85rem] text-vermilion">{wall}</span>{/if}
          </Button>
        </li>
      {:else}
        <li class="quiet">Nothing matches “{words}”.</li>
      {/each}
    </ul>
  {/if}
</Modal>
