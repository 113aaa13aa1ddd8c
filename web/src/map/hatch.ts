// Hatchings for ground that is closed, excluded or guessed, each at its own angle.

const made = new Map<string, CanvasPattern | string>()

export function hatch(angle: number, colour: string): CanvasPattern | string {
  const key = `${angle} ${colour}`
  const before = made.get(key)
  if (before) return before
  const tile = document.createElement('canvas')
  tile.width = tile.height = 12
  const pen = tile.getContext('2d')
  if (!pen) return 'transparent'
  pen.strokeStyle = colour
  pen.lineWidth = 1.4
  pen.beginPath()
  if (angle === 0) {
    pen.moveTo(0, 6)
    pen.lineTo(12, 6)
  } else if (angle === 90) {
    pen.moveTo(6, 0)
    pen.lineTo(6, 12)
  } else {
    const flip = angle === 135
    for (const shift of [-12, 0, 12]) {
      pen.moveTo(flip ? shift : shift, flip ? 0 : 12)
      pen.lineTo(shift + 12, flip ? 12 : 0)
    }
  }
  pen.stroke()
  const pattern = pen.createPattern(tile, 'repeat') ?? colour
  made.set(key, pattern)
  return pattern
}
