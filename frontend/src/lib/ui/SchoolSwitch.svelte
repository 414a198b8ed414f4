<script lang="ts">
  import { aim, SCHOOLS, type Schools } from '$lib/state/aim.svelte';

  /** Where racers disagree: each question with its two schools; every verdict follows at once. */
  let { onchange }: { onchange: () => void } = $props();

  function choose(key: keyof Schools, value: string): void {
    aim.schools = { ...aim.schools, [key]: value };
    void aim.save();
    onchange();
  }
</script>

<div class="schools">
  {#each SCHOOLS as { key, question, options } (key)}
    <div role="group" aria-label={question}>
      <span class="question">{question}</span>
      {#each options as [value, words] (value)}
        <button class="school" aria-pressed={aim.schools[key] === value} onclick={() => choose(key, value)}
          >{words}</button
        >
      {/each}
    </div>
  {/each}
</div>

<style>
  .schools {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem 1.4rem;
    font-size: 0.88rem;
  }
  .schools div {
    display: flex;
    align-items: baseline;
    gap: 0.1rem;
  }
  .question {
    color: var(--ink-2);
    margin-right: 0.35rem;
  }
  .school {
    padding: 0 0.4rem;
    min-height: calc(var(--target) * 0.75);
    color: var(--ink-2);
    border-bottom: 2px solid transparent;
  }
  .school[aria-pressed='true'] {
    color: var(--ink);
    font-weight: 600;
    border-bottom-color: var(--ink);
  }
</style>
