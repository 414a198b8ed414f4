<script lang="ts">
  import Helper from 'flowbite-svelte/Helper.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import type { FullAutoFill } from 'svelte/elements';

  /** One line of a form about accounts: a name, a password, a code; with what is wrong with it. */
  let {
    label,
    value = $bindable(''),
    type = 'password',
    autocomplete,
    help = '',
    error = '',
  }: {
    label: string;
    value?: string;
    type?: 'text' | 'password';
    autocomplete: FullAutoFill;
    help?: string;
    error?: string;
  } = $props();
  const id = $props.id();
</script>

<div class="mb-3">
  <Label for={id}>{label}</Label>
  <Input
    {id}
    {type}
    {autocomplete}
    bind:value
    required
    maxlength={128}
    spellcheck={false}
    autocapitalize="off"
    aria-invalid={error !== ''}
    aria-describedby={error || help ? `${id}-say` : undefined}
    class="w-full text-lg"
  />
  {#if error || help}<Helper id="{id}-say" class={error ? 'font-medium text-vermilion' : ''}>{error || help}</Helper
    >{/if}
</div>
