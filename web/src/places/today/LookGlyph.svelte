<script lang="ts">
  // Small drawings of what a look may say, on a 32 × 24 grid.
  const paths: Record<string, string> = {
    'sward_left.plenty': 'M4 21V6M9 21V4M14 21V7M19 21V4M24 21V6M28 21V5',
    'sward_left.right': 'M4 21v-7M9 21v-8M14 21v-7M19 21v-8M24 21v-7M28 21v-8',
    'sward_left.short': 'M4 21v-3M9 21v-3M14 21v-3M19 21v-3M24 21v-3M28 21v-3',
    'sward_left.bare': 'M4 21v-5M8 21v-4M12 21h10M26 21v-5',
    'evenness.even': 'M4 21v-8M9 21v-8M14 21v-8M19 21v-8M24 21v-8M28 21v-8',
    'evenness.patchy': 'M4 21v-8M9 21v-3M14 21v-9M19 21v-3M24 21v-8M28 21v-4',
    'evenness.rank': 'M4 21v-2M9 21V4M12 21V5M17 21v-2M22 21v-2M26 21V4M29 21V6',
    'bellies.hollow': 'M3 6h26M5 6c2 3 4 4 6 4s3 1 5 1 3-1 5-1 5-2 6-4',
    'bellies.flat': 'M3 6h26M4 6c2 6 5 7 12 7s10-1 12-7',
    'bellies.filling': 'M3 6h26M4 6c1 9 5 11 12 11s11-2 12-11',
    'bellies.full': 'M3 6h26M4 6c0 12 5 15 12 15s12-3 12-15',
    'dung.stacked': 'M9 21h14M10 17h12M12 13h8M14 9h4',
    'dung.folded': 'M5 21h22M7 17c3-2 15-2 18 0M10 13c3-2 9-2 12 0',
    'dung.flat': 'M4 20c4-4 20-4 24 0M10 18h12',
    'dung.runny': 'M3 20c6-2 8 1 13 0s8-2 13 0M9 13v3M16 10v4M23 13v3',
    'water.good': 'M4 6v14h24V6M4 8h24',
    'water.low': 'M4 6v14h24V6M4 16h24',
    'water.dirty': 'M4 6v14h24V6M4 9h24M9 13h.01M15 15h.01M21 12h.01M25 16h.01',
    'water.none': 'M4 6v14h24V6M10 4l12 18',
    'power.on': 'M6 21V5M26 21V5M6 9h20M17 2l-4 7h5l-4 7',
    'power.weak': 'M6 21V5M26 21V5M6 9c8 5 12 5 20 0',
    'power.down': 'M6 21V5M26 21 22 6M6 9c4 10 8 12 12 12',
    'storeys.one': 'M6 21v-5M13 21v-5M20 21v-5M27 21v-5',
    'storeys.two': 'M6 21v-5M13 21V11M20 21v-5M27 21V11',
    'storeys.three': 'M6 21v-5M13 21V11M20 21V4M27 21v-5',
    'mud.none': 'M3 19h26',
    'mud.some': 'M3 19h7l2 2h3l2-2h12',
    'mud.much': 'M3 17l3 4h3l3-4 3 4h3l3-4 3 4h3l2-4',
  }
  let { of }: { of: string } = $props()
</script>

{#if paths[of]}
  <svg
    width="32"
    height="24"
    viewBox="0 0 32 24"
    fill="none"
    stroke="currentColor"
    stroke-width="1.8"
    stroke-linecap="round"
    aria-hidden="true"><path d={paths[of]} /></svg
  >
{/if}
