// A mob is a shape and a letter in a heather tone; the tone alone never tells.

export const glyphs = ['triangle', 'circle', 'square', 'diamond', 'hexagon'] as const
export type GlyphName = (typeof glyphs)[number]

/** The outline of a glyph as points around the origin, half a unit wide. */
export function outline(glyph: string): [number, number][] {
  switch (glyph) {
    case 'triangle':
      return [
        [0, -0.56],
        [0.56, 0.46],
        [-0.56, 0.46],
      ]
    case 'square':
      return [
        [-0.46, -0.46],
        [0.46, -0.46],
        [0.46, 0.46],
        [-0.46, 0.46],
      ]
    case 'diamond':
      return [
        [0, -0.58],
        [0.54, 0],
        [0, 0.58],
        [-0.54, 0],
      ]
    case 'hexagon':
      return around(6, 0.53)
    default:
      return around(24, 0.5)
  }
}

function around(n: number, r: number): [number, number][] {
  return Array.from({ length: n }, (_, i) => {
    const a = (2 * Math.PI * i) / n
    return [r * Math.cos(a), r * Math.sin(a)]
  })
}

export function svgPoints(glyph: string, size: number): string {
  return outline(glyph)
    .map(([x, y]) => `${(x * size).toFixed(2)},${(y * size).toFixed(2)}`)
    .join(' ')
}

/** The tone of a mob: one for each shape. */
export function tone(glyph: string): string {
  const i = glyphs.indexOf(glyph as GlyphName)
  return `var(--mob-${i < 0 ? 0 : i})`
}
