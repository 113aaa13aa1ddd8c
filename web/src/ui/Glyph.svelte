<script lang="ts">
  import { svgPoints, tone } from './glyph'

  let { glyph, letter, size = 26 }: { glyph: string; letter: string; size?: number } = $props()
</script>

<svg width={size} height={size} viewBox="-13 -13 26 26" aria-hidden="true" class="shrink-0">
  <polygon points={svgPoints(glyph, 24)} fill={tone(glyph)} stroke="var(--surface)" stroke-width="1" />
  <text y={glyph === 'triangle' ? 8 : 4} text-anchor="middle" font-size="11.5" font-weight="700" fill="var(--surface)"
    >{letter}</text
  >
</svg>
