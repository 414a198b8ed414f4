<script lang="ts">
  import Helper from 'flowbite-svelte/Helper.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import type { Option } from '$lib/api/client';
  import { typed } from '$lib/ui/typed';

  /** One value to type: label, unit, what is allowed when it is not. */
  let {
    label,
    unit = '',
    help = '',
    value,
    error,
    options,
    fallback,
    required = false,
    wide = false,
    estimated = true,
    empty = estimated ? '~ estimated' : 'not set',
    oninput,
  }: {
    label: string;
    unit?: string;
    help?: string;
    value: string;
    error?: string | undefined;
    options?: Option[] | null | undefined;
    fallback?: string | number | null | undefined;
    required?: boolean;
    wide?: boolean;
    /** Whether something stands in where it is left empty. */
    estimated?: boolean;
    /** What stands in a field that is left empty. */
    empty?: string;
    oninput: (text: string) => void;
  } = $props();

  const id = $props.id();
</script>

<div class="clear-both mb-2">
  <Label for={id} class={required ? 'font-medium text-ink' : ''}>{label}</Label>
  <div class="flex items-baseline">
    {#if options}
      <Select
        placeholder=""
        {id}
        class="w-full flex-1"
        value={value || String(fallback ?? '')}
        onchange={(e) => oninput(e.currentTarget.value)}
      >
        {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
      </Select>
    {:else}
      <Input
        {id}
        inputmode={wide ? 'text' : 'decimal'}
        autocomplete="off"
        {value}
        placeholder={!required && !wide ? (fallback !== undefined && fallback !== null ? `~${fallback}` : empty) : ''}
        aria-invalid={error !== undefined}
        aria-describedby={error || help ? `${id}-say` : undefined}
        oninput={(e) => oninput(typed(e))}
        class={['min-w-0 text-lg placeholder:text-[0.95rem]', wide ? 'w-72! max-w-[80vw]' : 'flex-1']}
      />
      {#if unit}<span class="ps-1 text-[0.86rem] text-ink-2">{unit}</span>{/if}
    {/if}
  </div>
  {#if error || help}<Helper id="{id}-say" class={error ? 'font-medium text-vermilion' : ''}>{error ?? help}</Helper
    >{/if}
</div>
