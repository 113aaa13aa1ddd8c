<script lang="ts">
  // Drawn by hand: three crests and a cloudberry post.
</script>

<!-- The mark of the house: feed drawn as a skyline, straw below, spruce on the crests. -->
<svg
  class="pointer-events-none absolute inset-x-0 bottom-0 h-[210px] w-full max-md:hidden"
  viewBox="0 0 840 210"
  preserveAspectRatio="none"
  aria-hidden="true"
>
  <path d="M0 120 C120 60 180 150 300 96 S470 40 560 92 720 60 840 88 V210 H0z" fill="var(--feed-0)" opacity="0.45" />
  <path d="M0 150 C90 110 170 170 270 134 S430 86 520 128 690 108 840 128 V210 H0z" fill="var(--feed-2)" opacity="0.6" />
  <path d="M0 182 C110 150 210 196 330 164 S520 140 620 168 770 150 840 160 V210 H0z" fill="var(--feed-4)" />
  <path d="M548 210 V116" stroke="var(--now)" stroke-width="3" />
</svg>
