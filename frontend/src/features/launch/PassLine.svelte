<script lang="ts">
  import type { Launch } from '$lib/api/client';
  import { units } from '$lib/units/units.svelte';

  /** The straight, to scale: run-up, full speed, where to lift, the water that is left. Own drawing: no library draws
      ponds. */
  let { plan, pond }: { plan: NonNullable<Launch['plan']>; pond: number | null } = $props();

  let width = $state(600);
  const lift = $derived(plan.lift_m ?? 0);
  const up = $derived(Math.min(plan.run_up_m ?? lift, lift));
  const end = $derived(pond ?? lift + 15);
  const reach = $derived(Math.max(end, lift + 15));
  const x = (metres: number): number => 8 + (metres / reach) * (width - 16);
  const say = (metres: number): string => units.text(metres, 'distance');
</script>

<div bind:clientWidth={width}>
  <svg
    {width}
    height="86"
    role="img"
    aria-label="The straight: {say(up)} of run-up, {say(plan.held_m)} at full speed, lift at {say(lift)}{pond
      ? ` of ${say(pond)}`
      : ''}"
    class="block overflow-visible"
  >
    <rect x={x(0)} y="34" width={x(end) - x(0)} height="16" class="fill-water/10" />
    <path d="M{x(0)} 50 L{x(up)} 34 V50 Z" class="fill-water/45" />
    <rect x={x(up)} y="34" width={Math.max(x(lift) - x(up), 0)} height="16" class="fill-water" />
    <path d="M{x(lift)} 34 L{x(Math.min(lift + 15, reach))} 50 H{x(lift)} Z" class="fill-water/30" />
    <line x1={x(end)} x2={x(end)} y1="26" y2="58" class="stroke-ink" stroke-width={pond ? 3 : 1} />
    <line x1={x(lift)} x2={x(lift)} y1="22" y2="58" class="stroke-ink" stroke-width="1.5" />
    <text x={x(lift) - 5} y="22" text-anchor="end" class="fill-ink text-[13px] font-semibold">lift at {say(lift)}</text>
    <text x={x(0)} y="70" class="fill-ink-2 text-[12.5px]">run-up {say(up)}</text>
    {#if x(lift) - x(up) > 90}
      <text x={(x(up) + x(lift)) / 2} y="70" text-anchor="middle" class="fill-ink-2 text-[12.5px]"
        >{say(plan.held_m)} at full speed</text
      >
    {/if}
    {#if pond}
      <text x={x(end)} y="84" text-anchor="end" class="fill-ink-2 text-[12.5px]"
        >{plan.short_m > 0 ? 'the shore' : `${say(Math.max(end - lift, 0))} left to the shore`}</text
      >
    {/if}
  </svg>
</div>
