import { house } from '../../ui/house.svelte'
import { addDays, isoDay, moment } from '../../ui/time.svelte'

// The farm's move hours: where a dragged move may land.

const usual = { minutes: [480, 1080], weekdays: [1, 2, 3, 4, 5, 6, 7], away: [] as { from_on: string; until_on: string }[] }

/** Minutes after midnight as a clock shows them. */
export const wallClock = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`

/** What a clock shows as minutes after midnight. */
export function minutesOf(clock: string): number {
  const [h, m] = clock.split(':').map(Number)
  return h! * 60 + m!
}

/** Whether stock are moved on a day. */
function moved(day: string): boolean {
  const { weekdays, away } = house.farm?.moving ?? usual
  const weekday = new Date(`${day}T12:00:00Z`).getUTCDay() || 7
  return !away.some((a) => day >= a.from_on && day <= a.until_on) && weekdays.includes(weekday)
}

// How many days a move hour is looked for: spans away may follow on one another.
const longest = 400

/** The move hours of the first day on which stock are moved, from a day on, forward or back. */
function hoursFrom(at: Date, by: 1 | -1): Date[] {
  const { minutes } = house.farm?.moving ?? usual
  for (let d = 0; d < longest; d++) {
    const day = isoDay(addDays(at, d * by))
    if (moved(day)) return minutes.map((m) => moment(day, wallClock(m)))
  }
  return []
}

const around = (at: Date) => [
  ...hoursFrom(addDays(at, -1), -1),
  ...hoursFrom(at, -1),
  ...hoursFrom(at, 1),
  ...hoursFrom(addDays(at, 1), 1),
]

/** The move hour nearest to a moment. */
export function nearestSlot(at: Date): Date {
  const [first = at, ...others] = around(at)
  return others.reduce((best, s) => (Math.abs(+s - +at) < Math.abs(+best - +at) ? s : best), first)
}

/** So many move hours on from one. */
export function stepSlot(at: Date, steps: number): Date {
  let slot = at
  for (let i = 0; i < Math.abs(steps); i++) {
    const list = around(slot).sort((a, b) => +a - +b)
    const next = steps > 0 ? list.find((s) => +s > +slot) : list.findLast((s) => +s < +slot)
    if (next) slot = next
  }
  return slot
}
