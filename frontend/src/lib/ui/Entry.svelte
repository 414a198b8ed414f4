<script lang="ts">
  import type { Option } from '$lib/api/client';

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
    empty = '~ estimated',
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
    /** What stands in a field that is left empty. */
    empty?: string;
    oninput: (text: string) => void;
  } = $props();

  const id = $props.id();
</script>

<div class="entry" class:wide class:required>
  <label for={id}>{label}</label>
  <div class="cell">
    {#if options}
      <select {id} value={value || String(fallback ?? '')} onchange={(e) => oninput(e.currentTarget.value)}>
        {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
      </select>
    {:else}
      <input
        {id}
        inputmode={wide ? 'text' : 'decimal'}
        autocomplete="off"
        {value}
        placeholder={!required && !wide ? (fallback !== undefined && fallback !== null ? `~${fallback}` : empty) : ''}
        aria-invalid={error !== undefined}
        aria-describedby={error || help ? `${id}-say` : undefined}
        oninput={(e) => oninput(e.currentTarget.value)}
      />
      {#if unit}<span class="unit">{unit}</span>{/if}
    {/if}
  </div>
  {#if error || help}<p id="{id}-say" class:stop={error}>{error ?? help}</p>{/if}
</div>

<style>
  .entry {
    margin-bottom: 0.5rem;
    clear: both;
  }
  label {
    font-size: 0.86rem;
    color: var(--ink-2);
  }
  .required label {
    color: var(--ink);
    font-weight: 500;
  }
  .cell {
    display: flex;
    align-items: baseline;
  }
  input,
  select {
    flex: 1;
    min-width: 0;
    min-height: var(--target);
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: var(--sheet);
    color: var(--ink);
    font-size: 1.1rem;
    font-weight: 500;
    padding: 0 0.4rem;
  }
  input::placeholder {
    color: var(--ghost);
    font-style: italic;
    font-weight: 400;
    font-size: 0.95rem;
    opacity: 1;
  }
  input[aria-invalid='true'] {
    border-bottom: 3px double var(--vermilion);
  }
  .unit {
    padding-left: 0.3rem;
    font-size: 0.86rem;
  }
  p {
    margin: 0.05rem 0 0;
    font-size: 0.8rem;
    color: var(--ink-2);
    font-stretch: 85%;
  }
  p.stop {
    color: var(--vermilion);
    font-weight: 500;
  }
  .wide input {
    width: 18rem;
    max-width: 80vw;
  }
</style>
