import { api, ask, type Schemas } from '../../api/client'
import type { GroundShape } from '../../map/drawn'

/** What a drawn boundary comes to: its area, and what is wrong with it. The server reads it as it reads a file. */
export async function readGround(farm: string, shape: GroundShape): Promise<Schemas['Feature']> {
  const found = await readFile(farm, JSON.stringify({ type: 'MultiPolygon', coordinates: shape }))
  return found[0]!
}

export function readFile(farm: string, text: string): Promise<Schemas['Feature'][]> {
  return ask(
    api.POST('/api/farms/{farm}/fields/read', {
      params: { path: { farm } },
      body: text as never,
      bodySerializer: (b) => b as unknown as string,
      headers: { 'Content-Type': 'application/geo+json' },
    }),
  )
}

/** Corners as somebody types them: a line each, latitude and longitude. */
export function typedCorners(text: string): { shape: GroundShape | null; problem: string } {
  const ring: [number, number][] = []
  const lines = text.split('\n').filter((l) => l.trim())
  for (const [i, l] of lines.entries()) {
    const parts = l
      .trim()
      .split(/[\s,;]+/)
      .map(Number)
    if (parts.length !== 2 || parts.some(Number.isNaN))
      return { shape: null, problem: `Line ${i + 1} is not a latitude and a longitude: ${l.trim()}` }
    ring.push([parts[1]!, parts[0]!])
  }
  if (ring.length < 3) return { shape: null, problem: 'A field needs at least three corners.' }
  ring.push(ring[0]!)
  return { shape: [[ring]], problem: '' }
}
