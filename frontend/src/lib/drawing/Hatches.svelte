<script lang="ts">
</script>

<!-- The two hatches that limits are drawn with, once for the whole page. -->
<svg width="0" height="0" class="defs" aria-hidden="true">
  <defs>
    <pattern id="hatch-short" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="6" height="6" fill="none" />
      <line x1="0" y1="0" x2="0" y2="6" stroke="var(--ochre-mark)" stroke-width="1.6" />
    </pattern>
    <pattern id="hatch-stop" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <path d="M0 0 V6 M0 0 H6" stroke="var(--vermilion)" stroke-width="1.5" fill="none" />
    </pattern>
  </defs>
</svg>

<style>
  .defs {
    position: absolute;
  }
</style>
