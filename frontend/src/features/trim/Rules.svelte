<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Drawer from 'flowbite-svelte/Drawer.svelte';
  import Input from 'flowbite-svelte/Input.svelte';

  import { api, ask, type Problem, type TrimRule } from '$lib/api/client';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';

  /** The rules of thumb behind causes and steps; a racer who knows better says so here. */
  let { open = $bindable(false), onchanged }: { open: boolean; onchanged: () => void } = $props();

  let rules = $state.raw<TrimRule[]>([]);
  let problem = $state<Problem | undefined>();
  $effect(() => {
    // Reaches outside: the rules are asked for when they are looked at.
    if (open)
      void ask(api.GET('/api/trim/rules'))
        .then((found) => (rules = found.rules))
        .catch((error: unknown) => (problem = error as Problem));
  });
  async function set(changes: Record<string, number | null>): Promise<void> {
    problem = undefined;
    try {
      rules = (await ask(api.PUT('/api/trim/rules', { body: { changes } }))).rules;
      onchanged();
    } catch (error) {
      problem = error as Problem;
    }
  }
  function typed(rule: TrimRule, text: string): void {
    const chance = Number(text) / 100;
    if (text !== '' && chance >= 0 && chance <= 0.99) void set({ [rule.key]: chance });
  }
  const percent = (part: number): string => String(Math.round(100 * part));
  const groups = $derived.by(() => {
    const found: Record<string, TrimRule[]> = {};
    for (const rule of rules) (found[rule.words] ??= []).push(rule);
    return Object.entries(found);
  });
  const own = $derived(rules.filter((rule) => rule.chance !== rule.usual));
</script>

<Drawer
  bind:open
  placement="right"
  aria-label="Rules of thumb"
  class="w-[min(30rem,100%)] overflow-y-auto border-y-0 border-e-0 border-ink bg-paper p-5 text-ink"
>
  <h2 class="m-0">Rules of thumb</h2>
  <p class="mt-1 text-sm">
    How often a cause brings a sign about, and how often a step helps against it. Common practice, no source: change
    what you know better. It holds for all your boats.
  </p>
  {#if problem}<Notice kind="problem">{problem.message}</Notice>{/if}
  {#if own.length}
    <p class="text-sm">
      {own.length} of your own.
      <Button class={link} onclick={() => set(Object.fromEntries(own.map((r) => [r.key, null])))}
        >Put the usual ones back</Button
      >
    </p>
  {/if}
  {#if !rules.length && !problem}<Wait>Loading the rules…</Wait>{/if}
  {#each groups as [words, found] (words)}
    <h3 class="mt-4 mb-0 text-base first-letter:uppercase">{words}</h3>
    <ul class="m-0 list-none p-0">
      {#each found as rule (rule.key)}
        <li class="grid grid-cols-[minmax(0,1fr)_4.5rem_4.5rem] items-center gap-2 border-t border-hair py-1 text-sm">
          <span>{rule.kind === 'sign' ? rule.then : `${rule.then}: helps`}</span>
          <Input
            type="number"
            min="0"
            max="99"
            step="1"
            aria-label="{words}, {rule.then}, percent"
            value={percent(rule.chance)}
            onchange={(e) => typed(rule, e.currentTarget.value)}
            class="text-right"
          />
          {#if rule.chance === rule.usual}<span>%</span>
          {:else}<Button class={[link, 'text-sm']} onclick={() => set({ [rule.key]: null })}
              >usual {percent(rule.usual)}</Button
            >{/if}
        </li>
      {/each}
    </ul>
  {/each}
</Drawer>
