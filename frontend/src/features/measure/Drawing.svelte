<script lang="ts">
  /** What is measured, drawn; sizes follow what is typed where a size is what one sees. */
  let { name, si }: { name: string; si: Record<string, number> | undefined } = $props();

  const v = (key: string, otherwise: number) => si?.[key] ?? otherwise;
  // a shaft with its flat, 60 px for its radius
  const shaft = $derived(v('diameter', v('shaft', 5e-3)));
  const width = $derived(
    Math.min(
      v(
        'width',
        name === 'flat-over'
          ? 2 * Math.sqrt(Math.max(0, (shaft / 2) ** 2 - (v('over', 0.9 * shaft) - shaft / 2) ** 2))
          : 0.6 * shaft,
      ),
      shaft,
    ),
  );
  const half = $derived(Math.asin(Math.min(1, width / shaft)));
  const holes = $derived(Math.round(v('holes', 4)));
  const angle = $derived(
    name === 'pitch-chord'
      ? Math.asin(Math.min(0.99, v('rise', 8e-3) / v('chord', 16e-3)))
      : (v('angle', 32) * Math.PI) / 180,
  );
</script>

<svg viewBox="0 0 320 190" role="img" aria-label="Drawing of what is measured" class="w-full max-w-95 block">
  {#if name === 'kv'}
    <rect x="150" y="55" width="110" height="80" class="part" />
    <path d="M260 70 h26 M260 95 h26 M260 120 h26" class="wire" />
    <path d="M286 70 q18 12 0 50" class="wire" />
    <circle cx="300" cy="95" r="16" class="meter" /><text x="300" y="100" text-anchor="middle">U~</text>
    <path d="M60 82 h90 v26 h-90 z" class="part" />
    <path d="M20 60 h44 v70 h-44 z" class="part" />
    <path d="M110 60 a26 26 0 1 1 -1 70" class="turn" /><text x="36" y="150">drill, rpm</text><text x="180" y="150"
      >motor</text
    >
  {:else if name === 'winding' || name === 'no-load'}
    <rect x="180" y="45" width="100" height="90" class="part" /><text x="205" y="155">motor</text>
    <path d="M180 65 h-110 v30 M70 125 v15 h110" class="wire" />
    <circle cx="70" cy="110" r="15" class="meter" /><text x="70" y="115" text-anchor="middle">I</text>
    <path d="M165 65 v20 M165 140 v-22" class="wire" /><circle cx="165" cy="102" r="15" class="meter" /><text
      x="165"
      y="107"
      text-anchor="middle">U</text
    >
  {:else if name === 'cell'}
    {#each [0, 1, 2, 3] as k (k)}<rect x={40 + 34 * k} y="60" width="28" height="80" class="part" />{/each}
    <path d="M176 70 h90 v20 M176 130 h90 v-20" class="wire" />
    <path d="M258 90 h16 v20 h-16 z" class="part" /><text x="240" y="160">load 1, load 2</text>
  {:else if name.startsWith('pitch')}
    <path d="M40 150 H290" class="wire" />
    <path d="M60 150 L{60 + 190 * Math.cos(angle)} {150 - 190 * Math.sin(angle)}" class="blade" />
    <path d="M{60 + 60} 150 A60 60 0 0 0 {60 + 60 * Math.cos(angle)} {150 - 60 * Math.sin(angle)}" class="turn" />
    <path d="M{60 + 190 * Math.cos(angle)} 150 V{150 - 190 * Math.sin(angle)}" class="size" />
    <text x={70 + 190 * Math.cos(angle)} y={150 - 95 * Math.sin(angle)}>rise</text>
    <text x="128" y="140">{((angle * 180) / Math.PI).toFixed(0)}°</text>
    <text x="150" y="172">once round: the pitch</text>
  {:else if name.startsWith('flat') || name === 'find-flat'}
    <path
      d="M{160 - 60 * Math.sin(half)} {95 - 60 * Math.cos(half)} A60 60 0 1 0 {160 + 60 * Math.sin(half)} {95 -
        60 * Math.cos(half)} Z"
      class="part"
    />
    <path
      d="M{160 - 60 * Math.sin(half)} {95 - 60 * Math.cos(half)} A60 60 0 0 1 {160 + 60 * Math.sin(half)} {95 -
        60 * Math.cos(half)}"
      class="gone"
    />
    <path d="M{160 - 60 * Math.sin(half)} 24 h{120 * Math.sin(half)}" class="size" />
    <text x="160" y="18" text-anchor="middle">{(width * 1e3).toFixed(2)} mm</text>
    <path d="M244 {95 - 60} V{95 - 60 * Math.cos(half)}" class="size" /><text x="250" y={95 - 30 - 30 * Math.cos(half)}
      >{((shaft / 2) * (1 - Math.cos(half)) * 1e3).toFixed(2)} mm</text
    >
    <path d="M160 95 m-4 0 h8 m-4 -4 v8" class="size" />
  {:else if name === 'circle'}
    <circle cx="160" cy="95" r="66" class="dash" />
    {#each { length: Math.min(holes, 12) }, k (k)}
      <circle
        cx={160 + 66 * Math.sin((2 * Math.PI * k) / holes)}
        cy={95 - 66 * Math.cos((2 * Math.PI * k) / holes)}
        r="7"
        class="part"
      />
    {/each}
    <path
      d="M160 29 L{160 + 66 * Math.sin((2 * Math.PI) / holes)} {95 - 66 * Math.cos((2 * Math.PI) / holes)}"
      class="size"
    />
    <text x="206" y="48">hole to hole</text>
  {:else if name === 'centre'}
    {@const share = v('bow', 0.74) / (v('bow', 0.74) + v('stern', 1.35))}
    <path d="M50 105 H250 Q285 104 296 84 H50 Z" class="part" />
    <path d="M60 105 l-12 22 h24 z M260 105 l-12 22 h24 z" class="part" />
    <rect x="34" y="130" width="52" height="22" class="meter" /><rect
      x="234"
      y="130"
      width="52"
      height="22"
      class="meter"
    />
    <text x="60" y="146" text-anchor="middle">stern</text><text x="260" y="146" text-anchor="middle">bow</text>
    <path d="M{60 + 200 * share} 60 v60" class="size" /><circle cx={60 + 200 * share} cy="92" r="6" class="dot" />
  {:else if name === 'nick' || name === 'balance'}
    <circle cx="160" cy="95" r="12" class="part" />
    <path d="M160 95 q-40 -78 0 -84 q40 6 0 84" class="blade" /><path
      d="M160 95 q-40 78 0 84 q40 -6 0 -84"
      class="blade"
    />
    <path d="M176 20 l10 6 l-3 12" class="gone" /><path d="M160 95 L178 26" class="size" /><text x="186" y="60">r</text>
    <path d="M100 95 a60 60 0 0 1 20 -46" class="turn" /><text x="78" y="70">rpm</text>
  {:else if name === 'find-shim'}
    {@const bore = v('bore', 4.76e-3)}
    <circle cx="160" cy="95" r="84" class="part" /><circle cx="160" cy="95" r="62" class="void" />
    <circle cx="160" cy="95" r={62 * Math.min(1, v('shaft', 4e-3) / bore)} class="part" />
    <text x="160" y="100" text-anchor="middle">shaft</text><text x="232" y="40">bore</text>
  {:else if name === 'find-ring'}
    <rect x="40" y="30" width="240" height="40" class="part" /><rect
      x="120"
      y="48"
      width="70"
      height="22"
      class="void"
    />
    <rect x="40" y="96" width="240" height="54" class="part" /><ellipse cx="155" cy="72" rx="26" ry="24" class="dot" />
    <text x="60" y="56">jacket</text><text x="60" y="128">can</text>
  {:else}
    <path d="M40 95 H280" class="wire" stroke-width="10" />
    <path d="M40 70 q120 -40 240 0" class="turn" />
    <text x="160" y="140" text-anchor="middle"
      >{name === 'power' ? 'torque × turning' : name === 'slip' ? 'a screw that slips' : 'what it carries'}</text
    >
  {/if}
</svg>

<style>
  .part {
    fill: var(--sheet);
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .void {
    fill: var(--paper);
    stroke: var(--ink);
  }
  .blade {
    fill: var(--hair);
    stroke: var(--ink);
    stroke-width: 2.2;
  }
  .wire {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .meter {
    fill: var(--paper);
    stroke: var(--water);
    stroke-width: 2;
  }
  .turn,
  .dash {
    fill: none;
    stroke: var(--water);
    stroke-width: 1.8;
    stroke-dasharray: 5 3;
  }
  .gone {
    fill: none;
    stroke: var(--vermilion);
    stroke-width: 1.8;
    stroke-dasharray: 3 2;
  }
  .size {
    fill: none;
    stroke: var(--ink-2);
    stroke-width: 1;
  }
  .dot {
    fill: var(--ink);
  }
  text {
    font-size: 13px;
    fill: var(--ink);
  }
</style>
