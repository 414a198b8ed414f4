<script lang="ts">
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';

  import type { Launch } from '$lib/api/client';

  /** What is looked at, by phase; ticked with a thumb. */
  let {
    phases,
    done,
    ontick,
  }: {
    phases: Launch['phases'];
    done: (key: string, was: boolean) => boolean;
    ontick: (key: string, done: boolean) => void;
  } = $props();
  const count = (phase: Launch['phases'][number]): number => phase.checks.filter((c) => done(c.key, c.done)).length;
</script>

{#each phases as phase (phase.phase)}
  <section class="mb-4 break-inside-avoid">
    <h2 class="mb-0.5 flex items-baseline justify-between gap-4">
      {phase.title}
      <span class="quiet text-sm font-normal">{count(phase)} of {phase.checks.length}</span>
    </h2>
    <ul class="m-0 list-none p-0">
      {#each phase.checks as check (check.key)}
        {@const ticked = done(check.key, check.done)}
        <li class="border-t border-hair">
          <Checkbox
            checked={ticked}
            onchange={(e) => ontick(check.key, (e.currentTarget as HTMLInputElement).checked)}
            classes={{ div: 'min-h-(--target) max-md:min-h-12 flex w-full items-center gap-3 py-1' }}
          >
            <span class={['leading-snug', ticked && 'text-ink-2']}>
              <b class="font-semibold">{check.do}</b>{#if check.caution}<b
                  class="text-vermilion"
                  title="somebody can be hurt">&nbsp;!</b
                >{/if}{#if check.look}<span class="text-sm text-ink-2">&ensp;{check.look}</span>{/if}
            </span>
          </Checkbox>
        </li>
      {/each}
    </ul>
  </section>
{/each}
