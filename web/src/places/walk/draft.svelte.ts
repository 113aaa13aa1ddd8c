import { newId, type Schemas } from '../../api/client'
import { outbox } from '../../api/outbox.svelte'
import { house } from '../../ui/house.svelte'
import { isoDay, now } from '../../ui/time.svelte'

// A paddock being measured. Every change is written to the browser at once, and every reading goes to the outbox the
// moment it is entered: closing the browser, or the phone's battery, loses nothing.

export type Method = 'plate' | 'plate_counter' | 'stick' | 'clip' | 'plain' | 'eye'

export const methodNames: Record<Method, string> = {
  plate: 'Plate',
  plate_counter: 'Plate counter',
  stick: 'Height and cover',
  clip: 'Clip',
  plain: 'A figure',
  eye: 'By eye',
}
export const methodUnits: Record<Method, string> = {
  plate: 'cm',
  plate_counter: '',
  stick: 'cm',
  clip: 'g',
  plain: 'kg_ha',
  eye: 'kg_ha',
}
/** methods that ask for the eye's figure first */
export const guessedFirst = (m: Method) => m !== 'eye' && m !== 'plain'

export interface Reading {
  id: string
  value: number
  zone: number
  taken_at: string
}

export interface Draft {
  id: string
  method: Method
  readings: Reading[]
  /** readings somebody looked at and kept */
  kept: string[]
  guess: number | null
  guessed: boolean
  zone: number
  cover: number | null
  dry: number | null
  frame: number | null
  counter: (number | null)[]
  cm_per_count: number | null
  fists: number | null
  fist_cm: number | null
  wet: boolean
  frosty: boolean
  note: string
  photos: number
  /** the moment as of which readings of an earlier day are finished */
  as_of?: string
}

const keyOf = (farm: string, paddock: string) => `fjell.walk.${house.person}.${farm}.${paddock}`

function remembered(key: string): number | null {
  const v = Number(localStorage.getItem(`fjell.walk.${key}`))
  return v > 0 ? v : null
}

export function remember(key: string, value: number | null) {
  if (value) localStorage.setItem(`fjell.walk.${key}`, String(value))
}

export function openDraft(farm: string, stop: Schemas['WalkStop']): Draft {
  // Old hands judge by eye until they take up another way.
  const usual = house.farm?.experience === 'old_hand' ? 'eye' : 'plate'
  const method = (localStorage.getItem('fjell.method') as Method) || usual
  const fresh: Draft = {
    id: newId(),
    method: method.startsWith('plate') && stop.plate_unsuited ? 'stick' : method,
    readings: [],
    kept: [],
    guess: null,
    guessed: false,
    zone: 0,
    cover: 0.85,
    dry: null,
    frame: remembered('frame'),
    counter: [null, null, null],
    cm_per_count: remembered('cm_per_count'),
    fists: null,
    fist_cm: remembered('fist_cm'),
    wet: false,
    frosty: false,
    note: '',
    photos: 0,
  }
  try {
    return { ...fresh, ...(JSON.parse(localStorage.getItem(keyOf(farm, stop.paddock_id)) ?? '{}') as Partial<Draft>) }
  } catch {
    return fresh
  }
}

export function saveDraft(farm: string, paddock: string, draft: Draft) {
  localStorage.setItem(keyOf(farm, paddock), JSON.stringify(draft))
}

export function closeDraft(farm: string, paddock: string) {
  localStorage.removeItem(keyOf(farm, paddock))
}

/** The moment of the last reading where that lies on another day than today; readings of two days make no mean. */
export function begunBefore(draft: Draft): string | null {
  const last = draft.readings.at(-1)?.taken_at
  return last && isoDay(new Date(last)) !== isoDay(now()) ? last : null
}

/** Whether a paddock has readings that are not a measurement yet. */
export function begun(farm: string, paddock: string): number {
  try {
    return (JSON.parse(localStorage.getItem(keyOf(farm, paddock)) ?? '{}') as Partial<Draft>).readings?.length ?? 0
  } catch {
    return 0
  }
}

/** Sends one reading on its way. */
export function holdReading(farm: string, stop: Schemas['WalkStop'], draft: Draft, r: Reading, dropped = false) {
  const method = draft.method === 'plate_counter' ? 'plate' : draft.method
  void outbox.hold({
    farm,
    id: r.id,
    kind: 'reading',
    body: {
      id: r.id,
      stop_id: draft.id,
      paddock_id: stop.paddock_id,
      method,
      value: r.value,
      zone: stop.zones[r.zone]?.name,
      taken_at: r.taken_at,
      dropped,
    },
  })
}

/** What core takes to say what the readings come to. */
export function inputOf(
  stop: Schemas['WalkStop'],
  draft: Draft,
): Omit<Schemas['NewMeasurement'], 'id' | 'paddock_id' | 'measured_at'> {
  const d = draft
  const line = d.method === 'stick' ? stop.stick_line : d.method.startsWith('plate') ? stop.plate_line : undefined
  const zoned = stop.zones.length > 0 && d.method !== 'plate_counter'
  return {
    method: d.method,
    readings: d.readings.map((r) => r.value),
    sward_id: stop.sward_id,
    zones: zoned ? stop.zones : undefined,
    zone_of: zoned ? d.readings.map((r) => r.zone) : undefined,
    wet: d.wet || undefined,
    frosty: d.frosty || undefined,
    line_name: line?.calibration_id ? line.name : undefined,
    slope_kg_per_cm: line?.slope_kg_per_cm,
    intercept_kg: line?.intercept_kg,
    calibration_id: line?.calibration_id || undefined,
    canopy_cover: d.method === 'stick' && !line ? (d.cover ?? undefined) : undefined,
    dry_matter_share: d.method === 'clip' ? (d.dry ?? undefined) : undefined,
    quadrat_m2: d.method === 'clip' ? (d.frame ?? undefined) : undefined,
    first: d.method === 'plate_counter' ? (d.counter[0] ?? undefined) : undefined,
    last: d.method === 'plate_counter' ? (d.counter[1] ?? undefined) : undefined,
    drops: d.method === 'plate_counter' ? (d.counter[2] ?? undefined) : undefined,
    cm_per_count: d.method === 'plate_counter' ? (d.cm_per_count ?? undefined) : undefined,
    fists: d.fists ?? undefined,
    cm_per_fist: d.fists ? (d.fist_cm ?? undefined) : undefined,
    guess_kg_dm_ha: d.guess ?? undefined,
  }
}

export function newReading(value: number, zone: number): Reading {
  return { id: newId(), value, zone, taken_at: now().toISOString() }
}
