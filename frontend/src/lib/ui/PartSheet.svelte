<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte';

  import type { Field, Quantity, SetupDocument } from '$lib/api/client';
  import { unitLabel } from '$lib/units/units.svelte';

  import Entry from './Entry.svelte';
  import { read, textOf } from './partsheet';

  /** Everything that can be said of a part: what is empty is guessed, what is doubted says so beside its field. */
  let {
    title,
    kinds,
    fields,
    document,
    doubts = [],
    open = $bindable(false),
    onsay,
  }: {
    title: string;
    kinds: string[];
    fields: Field[];
    document: SetupDocument;
    doubts?: { path: string; sentence: string }[];
    open?: boolean;
    onsay: (path: string, value: Quantity | number | string | null) => void;
  } = $props();

  const HEADS: Record<string, string> = {
    wiring: 'Wires and plugs',
    conditions: 'Water, wind and charge',
    placement: 'Where the parts sit',
  };
  /** Its fields are those of the vocabulary, which are only known at run time. */
  const partOf = (kind: string): Record<string, unknown> =>
    (document[kind as keyof SetupDocument] ?? {}) as Record<string, unknown>;
  let typed = $state<Record<string, string>>({});
  let wrong = $state<Record<string, string>>({});

  function say(field: Field, text: string): void {
    const path = `${field.part}.${field.key}`;
    typed = { ...typed, [path]: text };
    const found = read(field, text, partOf(field.part)[field.key]);
    if (found.error) wrong = { ...wrong, [path]: found.error };
    else {
      wrong = Object.fromEntries(Object.entries(wrong).filter(([key]) => key !== path));
      onsay(path, found.value ?? null);
    }
  }
  $effect(() => {
    if (!open) {
      typed = {};
      wrong = {};
    }
  });
</script>

<Modal bind:open {title} size="lg">
  {#each kinds as kind (kind)}
    {#if kinds.length > 1}<h3 class="mt-4 mb-1.5 border-b border-ink first:mt-0">{HEADS[kind] ?? kind}</h3>{/if}
    <div class="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-x-6">
      {#each fields.filter((f) => f.part === kind) as field (field.key)}
        {@const path = `${field.part}.${field.key}`}
        {@const raw = partOf(field.part)[field.key]}
        <div>
          <Entry
            label={field.label}
            unit={unitLabel((raw as Quantity | null)?.unit ?? field.unit ?? '')}
            help={field.help}
            value={typed[path] ?? textOf(raw)}
            error={wrong[path]}
            options={field.options}
            fallback={field.default}
            estimated={field.estimated}
            required={field.required}
            oninput={(text) => say(field, text)}
          />
          {#each doubts.filter((d) => d.path === path) as doubt (doubt.sentence)}
            <p class="-mt-1 mb-2 border-s-3 border-ochre-mark ps-2 text-[0.82rem] text-ochre">{doubt.sentence}</p>
          {/each}
        </div>
      {/each}
    </div>
  {/each}
  <p class="quiet">Changes are tried at once and saved only when you save the setup. Empty fields are estimated.</p>
</Modal>
