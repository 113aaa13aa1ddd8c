import { api, ask, pressed, Refusal, type Schemas } from '../../api/client'
import { queries } from '../../api/queries.svelte'
import type { Write } from '../../api/write.svelte'
import type { GroundShape } from '../../map/drawn'
import type { Lonlat } from '../../map/tools'
import { house } from '../../ui/house.svelte'
import { clock, sayDay } from '../../ui/time.svelte'

/** What a drawn boundary comes to: its area, and what is wrong with it. The server reads it as it reads a file. */
export async function readGround(farm: string, shape: GroundShape): Promise<Schemas['Feature']> {
  const found = await readFile(farm, 'drawn.geojson', new Blob([JSON.stringify({ type: 'MultiPolygon', coordinates: shape })]))
  return found[0]!
}

export function readFile(farm: string, name: string, content: Blob, swap = false): Promise<Schemas['Feature'][]> {
  return ask(
    api.POST('/api/farms/{farm}/land/read', {
      params: { path: { farm }, query: { name, swap: swap || undefined } },
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

type Step = Schemas['StepView']

/** A step of the land in words: what was done, by whom and when. */
export const sayStep = (s: Step) =>
  `${s.label} (${s.own ? 'you' : s.by || 'Fjell'}, ${sayDay(new Date(s.at))} ${clock(new Date(s.at))})`

/** The step that is shown as the next; another person's is only taken when that is meant. */
async function meant(step: Step | undefined, question: (said: string) => string): Promise<string | undefined> {
  if (step && !step.own && !(await house.asks(question(sayStep(step))))) throw new Refusal(0, 'Left as it is.', [], false)
  return step?.id
}

const shownLand = (farm: string) => queries.getQueryData<Schemas['LandView']>(['land', farm])

export const undoLand = async (farm: string) => {
  const step = await meant(shownLand(farm)?.undo, (said) => `Take back what somebody else did? ${said}`)
  return ask(api.POST('/api/farms/{farm}/land/undo', { params: { path: { farm }, query: { step }, header: pressed } }))
}
export const redoLand = async (farm: string) => {
  const step = await meant(shownLand(farm)?.redo, (said) => `Do again what somebody else did? ${said}`)
  return ask(api.POST('/api/farms/{farm}/land/redo', { params: { path: { farm }, query: { step }, header: pressed } }))
}

/** Sends one edit of the land, which is undone on the land's own steps. */
export const edit = <T>(
  write: Write,
  farm: string,
  said: string,
  work: (id: string) => Promise<T>,
  then?: (answer: T) => unknown,
) => write.send(() => work(write.id()), { say: said, undo: () => undoLand(farm), then })
