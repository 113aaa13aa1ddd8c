import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries.svelte'
import type { GroundShape } from '../../map/drawn'
import type { Lonlat } from '../../map/tools'
import { house } from '../../ui/house.svelte'

/** What a drawn boundary comes to: its area, and what is wrong with it. The server reads it as it reads a file. */
export async function readGround(farm: string, shape: GroundShape): Promise<Schemas['Feature']> {
  const found = await readFile(farm, 'drawn.geojson', new Blob([JSON.stringify({ type: 'MultiPolygon', coordinates: shape })]))
  return found[0]!
}

export function readFile(farm: string, name: string, content: Blob): Promise<Schemas['Feature'][]> {
  return ask(
    api.POST('/api/farms/{farm}/land/read', {
      params: { path: { farm }, query: { name } },
      body: content as never,
      bodySerializer: (b) => b as unknown as string,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  )
}

/** Places as somebody types them: a line each, latitude and longitude. */
export function typedPlaces(text: string): { path: Lonlat[]; problem: string } {
  const path: Lonlat[] = []
  const lines = text.split('\n').filter((l) => l.trim())
  for (const [i, l] of lines.entries()) {
    const parts = l
      .trim()
      .split(/[\s,;]+/)
      .map(Number)
    if (parts.length !== 2 || parts.some(Number.isNaN))
      return { path: [], problem: `Line ${i + 1} is not a latitude and a longitude: ${l.trim()}` }
    path.push([parts[1]!, parts[0]!])
  }
  return { path, problem: '' }
}

const pressed = { 'Idempotency-Key': '' } // the client fills it in
export const undoLand = (farm: string) =>
  ask(api.POST('/api/farms/{farm}/land/undo', { params: { path: { farm }, header: pressed } }))
export const redoLand = (farm: string) =>
  ask(api.POST('/api/farms/{farm}/land/redo', { params: { path: { farm }, header: pressed } }))

/** Runs one edit of the land: says what was done, with an undo, or gives the refusal back. */
export async function edit(farm: string, said: string, work: (id: string) => Promise<unknown>): Promise<Refusal | null> {
  try {
    await work(newId())
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    return error
  }
  await refresh()
  house.say(said, () => undoLand(farm))
  return null
}
