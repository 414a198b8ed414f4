<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte';

  import { api, ask, Problem, type PartView } from '$lib/api/client';
  import { allPages } from '$lib/api/pages';
  import Notice from '$lib/ui/Notice.svelte';
  import { trimmed, unitLabel, units } from '$lib/units/units.svelte';

  /** The shelf, for one kind of part: pick one and see at once what it does. */
  let {
    kind,
    open = $bindable(false),
    onpick,
  }: { kind: string; open?: boolean; onpick: (part: PartView) => void } = $props();

  let parts = $state<PartView[]>([]);
  let problem = $state<Problem | undefined>();
  let words = $state('');
  let phase = $state<'loading' | 'ready'>('loading');

  async function load(kind: string): Promise<void> {
    phase = 'loading';
    try {
      parts = await allPages((after) =>
        ask(api.GET('/api/parts', { params: { query: { kind, after: after ?? '' } } })),
      );
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
    parts.filter((part) =>
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

<Modal bind:open title="{kind[0]?.toUpperCase()}{kind.slice(1)} from the shelf" size="md" class="sheet-modal">
  {#if problem}
    <Notice kind="problem">{problem.message} <button class="plain" onclick={() => load(kind)}>Try again</button></Notice
    >
  {:else if phase === 'loading'}
    <p class="quiet">Loading parts…</p>
  {:else if !parts.length}
    <Notice>No {kind} on the shelf yet. Parts come onto it with each new boat.</Notice>
  {:else}
    <label class="find">
      <span class="visually-hidden">Find by size or words</span>
      <input bind:value={words} placeholder="Find by size or name" />
    </label>
    <ul>
      {#each found as part (part.id)}
        <li>
          <button
            class="part"
            onclick={() => {
              open = false;
              onpick(part);
            }}
          >
            <b>{part.name}</b>
            <span>{facts(part)}</span>
          </button>
        </li>
      {:else}
        <li class="quiet">Nothing matches “{words}”.</li>
      {/each}
    </ul>
  {/if}
</Modal>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  .find input {
    width: 100%;
    min-height: var(--target);
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
  }
  .part {
    display: grid;
    width: 100%;
    text-align: left;
    padding: 0.55rem 0.4rem;
    border-bottom: 1px solid var(--hair);
  }
  .part:hover,
  .part:focus-visible {
    background: var(--sheet);
  }
  .part span {
    font-size: 0.85rem;
    color: var(--ink-2);
    font-stretch: 85%;
  }
</style>
