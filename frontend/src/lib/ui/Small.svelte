<script lang="ts">
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';

  /** A number within a sentence: words before it, its unit behind it. */
  let {
    label = '',
    unit = '',
    value,
    placeholder,
    wide = false,
    ariaLabel,
    ...rest
  }: {
    label?: string;
    unit?: string;
    value: string | number | null | undefined;
    placeholder?: string;
    wide?: boolean;
    /** What a screen reader says instead of the label. */
    ariaLabel?: string;
    step?: number | string;
    min?: number;
    max?: number;
    type?: 'text' | 'number' | 'date';
    inputmode?: 'decimal' | 'numeric' | 'text';
    onchange?: (event: Event) => void;
    oninput?: (event: Event) => void;
  } = $props();
</script>

<Label class="inline-flex flex-wrap items-baseline gap-x-1.5 text-[0.92rem] text-ink">
  {label}
  <Input
    inputmode="decimal"
    autocomplete="off"
    value={value ?? ''}
    {placeholder}
    aria-label={ariaLabel}
    {...rest}
    class={[
      'min-h-[calc(var(--target)*0.8)] bg-transparent px-1 text-right font-semibold',
      rest.type === 'date' ? 'w-36!' : wide ? 'w-20!' : 'w-14!',
    ]}
  />
  {unit}
</Label>
