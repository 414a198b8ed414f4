<script lang="ts">
  /** The program's own mark: a bow over a wave. Drawn, because it stands nowhere else. */
</script>

<a
  class="flex flex-col gap-0.5 px-4 pt-3 pb-2.5 text-[1.15rem] font-bold tracking-[0.06em] text-ink no-underline font-stretch-[76%]"
  href="/"
>
  <svg viewBox="0 0 40 16" width="40" height="16" aria-hidden="true">
    <path d="M2 13c6-4 10-4 18 0s12 4 18 0" class="fill-none stroke-water stroke-[1.8]" />
    <path d="M6 9c9-1 14-7 28-8-3 5-9 9-18 9z" class="fill-ink" />
  </svg>
  Kunstflug
</a>
