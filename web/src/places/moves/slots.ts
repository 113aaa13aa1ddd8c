import { house } from '../../ui/house.svelte'
import { addDays, isoDay, moment } from '../../ui/time.svelte'

// The farm's move hours: where a dragged move may land.

function around(at: Date): Date[] {
  const minutes = house.farm?.move_minutes ?? [480, 1080]
  return [-1, 0, 1].flatMap((d) => {
    const day = isoDay(addDays(at, d))
    return minutes.map((m) => moment(day, `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`))
  })
}

/** The move hour nearest to a moment. */
export function nearestSlot(at: Date): Date {
  return around(at).reduce((best, s) => (Math.abs(+s - +at) < Math.abs(+best - +at) ? s : best))
}

/** So many move hours on from one. */
export function stepSlot(at: Date, steps: number): Date {
  let slot = at
  for (let i = 0; i < Math.abs(steps); i++) {
    const list = around(slot)
    const next = steps > 0 ? list.find((s) => +s > +slot) : list.findLast((s) => +s < +slot)
    if (next) slot = next
  }
  return slot
}
