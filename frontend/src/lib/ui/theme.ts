/**
 * The library's controls, on the drawing sheet: themed here once, and nowhere else.
 *
 * Colours, corners and shadows come from the tokens in app.css (the library's palette is mapped onto paper and ink there);
 * this file says the shapes: rules in place of boxes, targets of the look's size, no rings, no pills.
 */
import type { ThemeConfig } from 'flowbite-svelte';

const FIELD =
  'min-h-(--target) rounded-none border-0 border-b border-ink bg-sheet px-1.5 py-0 text-base font-medium text-ink ' +
  'tabular-nums placeholder:font-normal placeholder:text-ghost placeholder:italic placeholder:opacity-100 ' +
  'focus:border-water focus:ring-0 ' +
  'aria-invalid:border-b-3 aria-invalid:border-double aria-invalid:border-vermilion';

export const theme: ThemeConfig = {
  button: {
    base:
      'min-h-(--target) gap-x-1.5 rounded-none border-ink px-3 py-0 text-[length:inherit] leading-tight focus-within:ring-0 ' +
      'disabled:border-rule disabled:opacity-100 disabled:text-ghost disabled:bg-transparent disabled:border ' +
      'aria-pressed:bg-ink aria-pressed:text-paper',
  },
  buttonGroup: 'rounded-none shadow-none',
  input: { input: FIELD },
  select: { select: `${FIELD} pe-7`, base: 'w-auto inline-block max-w-full align-baseline' },
  textarea: { base: FIELD, div: 'w-full' },
  label: 'text-[0.86rem] font-normal text-ink-2',
  helper: 'text-[0.8rem] leading-snug font-stretch-[85%]',
  checkbox: { base: 'size-5 flex-none accent-ink', div: 'text-ink' },
  table: { div: 'overflow-visible', table: 'text-[0.9rem] text-ink' },
  tableHead: 'border-b border-ink bg-transparent text-[0.84rem] text-ink-2 normal-case',
  tableHeadCell: 'px-0 py-0.5 pe-3 text-left align-bottom font-medium',
  tableBodyRow: 'border-hair bg-transparent last:border-b',
  tableBodyCell: 'px-0 py-0.5 pe-2 font-normal whitespace-normal',
  modal: {
    base: 'rounded-none border border-ink bg-paper text-ink divide-hair backdrop:bg-ink/40',
    header: 'py-3 text-lg text-ink',
    body: 'space-y-0 pt-2',
    footer: 'flex-wrap justify-end gap-2 space-x-0 py-3',
  },
  toast: { base: 'max-w-104 rounded-none border-0 bg-ink p-3 text-paper shadow-none', content: 'text-[0.92rem]' },
  tooltip: 'max-w-80 rounded-none border border-ink bg-sheet text-ink font-normal',
  popover: { base: 'rounded-none border-ink bg-sheet text-ink shadow-none' },
  kbd: 'min-w-7 rounded-none border-ink bg-sheet px-1.5 py-0.5 text-center text-ink',
  alert: 'my-2 rounded-none border-0 border-s-3 bg-transparent py-1 ps-3 pe-0 text-[0.95rem] text-ink',
  progressbar: { base: 'rounded-none bg-hair', inside: 'rounded-none' },
  timeline: 'ms-1.5 mb-3 border-rule',
  timelineItem: { div: 'bg-ink border-paper', time: 'hidden', h3: 'text-base font-semibold text-ink' },
  spinner: 'fill-ink text-hair',
  range: 'h-(--target) rounded-none bg-transparent accent-ink',
  fileupload: { base: `${FIELD} w-full py-1.5` },
  dropzone:
    'h-auto min-h-13 flex-row flex-wrap items-baseline content-center gap-x-3 rounded-none border-ink bg-transparent px-4 ' +
    'py-1.5 hover:bg-sheet',
};

/** A word one can press: not a box. */
export const link =
  'min-h-7 border-0 bg-transparent p-0 font-normal text-water underline decoration-1 underline-offset-2 ' +
  'hover:bg-transparent hover:text-ink disabled:border-0 whitespace-nowrap';
/** One of a few answers to one question: the chosen one is underlined. */
export const choice =
  'min-h-[calc(var(--target)*0.8)] border-0 border-b-2 border-transparent bg-transparent px-1.5 font-normal text-ink-2 ' +
  'hover:bg-transparent hover:text-ink aria-pressed:border-ink aria-pressed:bg-transparent aria-pressed:font-semibold ' +
  'aria-pressed:text-ink';
/** One of several sheets or kinds. */
export const tab =
  'min-h-[calc(var(--target)*0.9)] border border-transparent border-b-rule bg-transparent px-2.5 font-normal text-ink ' +
  'hover:bg-hair aria-pressed:border-ink aria-pressed:bg-transparent aria-pressed:font-semibold aria-pressed:text-ink';
/** Something that is so, or not: filled when it is. */
export const chip =
  'border border-rule bg-transparent px-2.5 font-normal text-ink hover:bg-hair aria-pressed:border-ink ' +
  'aria-pressed:bg-ink aria-pressed:text-paper aria-pressed:hover:bg-ink';
/** A row of words that is pressed as a whole. */
export const row =
  'min-h-[calc(var(--target)*0.85)] min-w-6 justify-start border-0 bg-transparent p-0 text-left font-normal text-ink ' +
  'hover:bg-transparent hover:text-water hover:underline aria-pressed:bg-transparent aria-pressed:text-ink';
