<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import ButtonGroup from 'flowbite-svelte/ButtonGroup.svelte';

  import { aim, SCHOOLS, type Schools } from '$lib/state/aim.svelte';
  import { choice } from '$lib/ui/theme';

  /** Where racers disagree: each question with its two schools; every verdict follows at once. Briefly, without the risk that is taken: it is set on Aim. */
  let { onchange, brief = false }: { onchange: () => void; brief?: boolean } = $props();
  const asked = $derived(brief ? SCHOOLS.filter(({ key }) => key !== 'risk') : SCHOOLS);

  function choose(key: keyof Schools, value: string | number): void {
    aim.schools = { ...aim.schools, [key]: value };
    void aim.save();
    onchange();
  }
</script>

<div class="flex flex-wrap gap-x-4 gap-y-1 text-[0.88rem]">
  {#each asked as { key, question, options } (key)}
    <ButtonGroup aria-label={question} class="items-baseline">
      <span class="me-1.5 text-ink-2">{question}</span>
      {#each options as [value, words] (value)}
        <Button aria-pressed={aim.schools[key] === value} onclick={() => choose(key, value)} class={choice}
          >{words}</Button
        >
      {/each}
    </ButtonGroup>
  {/each}
</div>
