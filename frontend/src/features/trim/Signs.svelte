<script lang="ts">
  import Asks from '$lib/ui/Asks.svelte';
  import Button from 'flowbite-svelte/Button.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';

  import type { Behaviour, Trim } from '$lib/api/client';
  import { chip, link } from '$lib/ui/theme';

  /** What the boat did, tapped; why, weighed; and which single step to try. */
  let {
    told,
    seen,
    ontap,
    ontry,
    onrules,
  }: {
    told: Trim;
    seen: Behaviour[];
    ontap: (sign: Behaviour) => void;
    ontry: (answer: Trim['answers'][number]) => void;
    onrules: () => void;
  } = $props();
  let open = $state('');
  const percent = (part: number): string => `${Math.round(100 * part)}\u00a0%`;
</script>

<section>
  <h2 class="mb-1">What did it do?</h2>
  <div class="flex flex-wrap gap-1.5" role="group" aria-label="What the boat did">
    {#each told.signs as { sign, words } (sign)}
      <Button class={chip} aria-pressed={seen.includes(sign)} onclick={() => ontap(sign)}>{words}</Button>
    {/each}
  </div>
  {#if told.seen_run}<p class="quiet mt-1 text-sm">As tapped on the newest run of this setup.</p>{/if}
  {#if told.causes.length}
    <h2 class="mt-4 mb-1">Likely causes <Asks of="trim.cause" /></h2>
    <ul class="m-0 list-none p-0">
      {#each told.causes as cause (cause.reason)}
        <li class="grid grid-cols-[minmax(0,1fr)_5rem_2.6rem] items-center gap-3 border-t border-hair py-1">
          <span>{cause.words}</span>
          <Progressbar progress={Math.round(100 * cause.chance)} size="h-2" aria-hidden="true" />
          <span class="text-right">{percent(cause.chance)}</span>
        </li>
      {/each}
    </ul>
    <h2 class="mt-4 mb-1">One small step</h2>
    <ol class="m-0 list-none p-0">
      {#each told.answers as answer (answer.step)}
        <li class="border-t border-hair py-1.5">
          <div class="flex items-baseline justify-between gap-3">
            <Button
              class={[link, 'text-left font-semibold']}
              aria-expanded={open === answer.step}
              onclick={() => (open = open === answer.step ? '' : answer.step)}>{answer.do}</Button
            >
            {#if answer.change}
              <Button color="alternative" class="flex-none" onclick={() => ontry(answer)}
                >Try {answer.change.words}<span class="visually-hidden">: {answer.do}</span></Button
              >
            {/if}
          </div>
          <p class="m-0 text-sm">
            Against {answer.against}; helps {percent(answer.helps)}{answer.harms >= 0.005
              ? `, makes it worse ${percent(answer.harms)}`
              : ''}.
          </p>
          {#if open === answer.step || told.answers[0] === answer}
            <p class="mt-0.5 mb-0 text-sm text-ink-2">
              {answer.how}
              <b class="font-semibold">Costs:</b>
              {answer.costs} <b class="font-semibold">Wrong if:</b>
              {answer.wrong_if}
            </p>
          {/if}
        </li>
      {/each}
    </ol>
    {#each told.held_back as words (words)}
      <p class="mt-1 mb-0 border-t border-hair pt-1 text-sm text-ochre">{words}</p>
    {/each}
    {#if told.tried.length}
      <p class="mt-2 mb-0 text-sm">
        Tried on this boat: {told.tried
          .map(
            (t) =>
              `${t.do.toLowerCase()} (${t.helped === null ? 'faster, not enough' : t.helped ? 'helped' : 'did not help'})`,
          )
          .join(', ')}.
      </p>
    {/if}
    <p class="quiet mt-2 text-[0.85rem]">
      {told.practice}
      <Button class={[link, 'text-[0.85rem]']} onclick={onrules}>Look at the rules</Button>
    </p>
  {:else}
    <p class="quiet mt-2">Tap what you saw. Causes and steps follow at once.</p>
  {/if}
</section>
