// The farm's time. It is the server's, offset from this device's clock, or held still in the demo.

let offset = $state(0)
let held = $state<number | null>(null)
let zone = $state('UTC')

const kept = 'fjell.clock'

/** Sets the farm's clock by an answer that came over the network just now. */
export function setClock(now: string, isHeld: boolean, timeZone: string) {
  const server = Date.parse(now)
  held = isHeld ? server : null
  offset = server - Date.now()
  zone = timeZone
  localStorage.setItem(kept, JSON.stringify({ offset, held }))
}

/**
 * Goes on with the clock as it was last set, for a farm that is known from an answer kept by this device: what was "now" in that
 * answer is long past.
 */
export function goOnWithClock(timeZone: string) {
  zone = timeZone
  try {
    const last = JSON.parse(localStorage.getItem(kept) ?? 'null') as { offset: number; held: number | null } | null
    if (last) ({ offset, held } = last)
  } catch {
    // half-written: the device's own clock is the next best
  }
}

/** The present moment at the farm. */
export function now(): Date {
  return new Date(held ?? Date.now() + offset)
}

export function timeZone(): string {
  return zone
}

export function isHeld(): boolean {
  return held !== null
}

/** How long ago something really was: where the farm's clock is held, a real time beside it would say nothing. */
export function ago(at: Date): string {
  const minutes = Math.round((Date.now() - at.getTime()) / 60_000)
  if (minutes < 2) return 'just now'
  return minutes < 120 ? `${minutes} minutes ago` : `${Math.round(minutes / 60)} hours ago`
}

function parts(at: Date, options: Intl.DateTimeFormatOptions): string {
  return new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options }).format(at)
}

/** YYYY-MM-DD at the farm. */
export function isoDay(at: Date): string {
  return new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' }).format(at)
}

/** HH:MM at the farm. */
export function clock(at: Date): string {
  return parts(at, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' })
}

/** "Wednesday 10 June" */
export function longDay(at: Date): string {
  return parts(at, { weekday: 'long' }) + ' ' + parts(at, { day: 'numeric', month: 'long' })
}

/** "Wed 10 June" */
export function shortDay(at: Date): string {
  return parts(at, { weekday: 'short' }) + ' ' + parts(at, { day: 'numeric', month: 'long' })
}

/** "10 June" */
export function dayMonth(at: Date): string {
  return parts(at, { day: 'numeric', month: 'short' })
}

export function hour(at: Date): number {
  return Number(parts(at, { hour: '2-digit', hourCycle: 'h23' }))
}

/** The part of the day as people say it. */
function partOfDay(at: Date): string {
  const h = hour(at)
  if (h < 11) return 'morning'
  if (h < 14) return 'noon'
  if (h < 17) return 'after noon'
  return 'evening'
}

const dayMs = 86_400_000

/** "tonight", "tomorrow morning", "Fri 12 June, evening" */
export function sayMoment(at: Date): string {
  const days = Math.round((Date.parse(isoDay(at)) - Date.parse(isoDay(now()))) / dayMs)
  const part = partOfDay(at)
  if (days === 0)
    return part === 'evening'
      ? 'tonight'
      : part === 'morning'
        ? 'this morning'
        : part === 'noon'
          ? 'noon today'
          : 'this afternoon'
  if (days === 1) return `tomorrow, ${part}`
  if (days === -1) return `yesterday, ${part}`
  return `${shortDay(at)}, ${part}`
}

/** A moment as near as it can be known: part of the day within three days, then the day alone. */
export function sayUntil(at: Date): string {
  return at.getTime() - now().getTime() < 3 * dayMs ? sayMoment(at) : shortDay(at)
}

/** "Fri 12 June", or "today", "tomorrow" */
export function sayDay(at: Date): string {
  const days = Math.round((Date.parse(isoDay(at)) - Date.parse(isoDay(now()))) / dayMs)
  if (days === 0) return 'today'
  if (days === 1) return 'tomorrow'
  if (days === -1) return 'yesterday'
  return shortDay(at)
}

/** A moment from a day and a clock time at the farm: the inverse of isoDay and clock. */
export function moment(day: string, time: string): Date {
  const wanted = Date.parse(`${day}T${time}:00Z`)
  let guess = wanted
  for (let i = 0; i < 3; i++) {
    const seen = Date.parse(`${isoDay(new Date(guess))}T${clock(new Date(guess))}:00Z`)
    guess += wanted - seen
  }
  return new Date(guess)
}

export function addDays(at: Date, days: number): Date {
  return new Date(at.getTime() + days * dayMs)
}
