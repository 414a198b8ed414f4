<script lang="ts">
  import type { Forecast, SetupDocument } from '$lib/api/client';
  import { grouped, toSi } from '$lib/units/units.svelte';

  import { flow } from './driveline';

  /** The drive as one drawn line with the water under it: its width is the power left, what leaves it is lost. */
  let { forecast, document }: { forecast: Forecast; document: SetupDocument } = $props();

  let width = $state(1000);
  const water = 96;
  const full = 34;
  const drawn = $derived(flow(forecast, width, water, full));
  const column = $derived(width / 5);
  const y = $derived(drawn.centre);
  const px = 900; // px a metre: parts are drawn to one scale

  const can = $derived({ l: toSi(document.motor.can_length) * px, d: toSi(document.motor.can_diameter) * px });
  const disc = $derived(toSi(document.propeller.diameter) * px);
  const blades = $derived(document.propeller.blades ?? 2);
  const cells = $derived(document.pack.cells);
  const waves = $derived(
    Array.from({ length: Math.ceil(width / 28) + 1 }, (_, k) => `q7 ${k % 2 ? 3.5 : -3.5} 14 0 t14 0`).join(' '),
  );
</script>

<div class="min-w-0 max-md:hidden" bind:clientWidth={width}>
  <svg
    {width}
    height="134"
    role="img"
    aria-label="Power along the drive: {drawn.leaks.map((l) => `${l.name} loses ${Math.round(l.watts)} W`).join(', ')}"
    class="block"
  >
    <path d={drawn.body} class="power" />
    {#each drawn.leaks as leak (leak.name)}
      <path d={leak.d} class="leak" />
    {/each}
    <rect x="0" y={water} {width} height="38" class="water" />
    <path d="M0 {water} {waves}" class="wave" />
    {#each drawn.leaks as leak (leak.name)}
      {#if leak.watts >= 0.5}
        <text x={leak.x + 2} y={water + 19} class="watts" text-anchor="middle">{grouped(leak.watts, 0)} W</text>
        <text x={leak.x + 2} y={water + 34} class="what" text-anchor="middle"
          >{leak.name === 'Wires and connectors'
            ? 'wires'
            : leak.name === 'Iron and bearings'
              ? 'iron'
              : leak.name.toLowerCase()}</text
        >
      {/if}
    {/each}

    <!-- pack: one box a cell -->
    <g transform="translate({column * 0.5 - 34} {y})">
      {#each { length: cells }, k (k)}
        <rect x={k * (68 / cells)} y="-24" width={68 / cells} height="48" class="part" />
      {/each}
      <path d="M60 -24 V-30 M66 -24 V-30" class="stroke" />
    </g>
    <!-- controller: a board with its capacitors and fins -->
    <g transform="translate({column * 1.5 - 30} {y})">
      <rect x="0" y="-20" width="60" height="40" class="part" />
      <path d="M8 -20 V20 M16 -20 V20 M24 -20 V20" class="thin" />
      <circle cx="40" cy="-9" r="6" class="part" /><circle cx="40" cy="9" r="6" class="part" />
    </g>
    <!-- motor: the can to scale, its shaft -->
    <g transform="translate({column * 2.5 - can.l / 2} {y})">
      <rect x="0" y={-can.d / 2} width={can.l} height={can.d} rx="2" class="part" />
      <path d="M{can.l * 0.16} {-can.d / 2} V{can.d / 2} M{can.l * 0.84} {-can.d / 2} V{can.d / 2}" class="thin" />
      <path d="M{can.l} 0 H{can.l + 16}" class="shaft" />
      <rect x={can.l + 10} y="-5" width="16" height="10" class="part" />
    </g>
    <!-- propeller from behind, to scale -->
    <g transform="translate({column * 3.5} {y})">
      {#each { length: blades }, k (k)}
        <path
          d="M0 {-disc * 0.1} C{disc * 0.26} {-disc * 0.18} {disc * 0.3} {-disc * 0.46} 0 {-disc / 2} C{-disc *
            0.12} {-disc * 0.4} {-disc * 0.12} {-disc * 0.2} 0 {-disc * 0.1} Z"
          transform="rotate({(360 / blades) * k + 24})"
          class="part"
        />
      {/each}
      <circle r={Math.max(disc * 0.12, 2)} class="part" />
    </g>
    <!-- hull from the side -->
    <g transform="translate({column * 4.5 - 56} {y})">
      <path d="M0 -12 H70 C92 -12 106 -4 114 6 C98 12 84 15 66 15 H0 Z" class="part" />
      <path d="M26 -12 C30 -22 50 -22 60 -12" class="part" />
      <path d="M0 15 V24 H-5 V10" class="stroke" />
    </g>
  </svg>
</div>

<style>
  .power {
    fill: var(--water-pale);
    stroke: var(--water);
    stroke-width: 1;
  }
  .leak {
    fill: var(--ochre-mark);
    opacity: 0.6;
  }
  .water {
    fill: var(--water-pale);
    opacity: 0.35;
  }
  .wave {
    fill: none;
    stroke: var(--water);
    stroke-width: 1.5;
  }
  .part {
    fill: var(--sheet);
    stroke: var(--ink);
    stroke-width: 1.4;
    stroke-linejoin: round;
  }
  .stroke,
  .thin {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .thin {
    stroke-width: 0.8;
  }
  .shaft {
    stroke: var(--ink);
    stroke-width: 3.5;
  }
  .watts {
    font-size: 13px;
    font-weight: 600;
    fill: var(--ink);
  }
  .what {
    font-size: 12px;
    fill: var(--ink-2);
    font-stretch: 78%;
  }
</style>
