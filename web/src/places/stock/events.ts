import type { Schemas } from '../../api/client'

export type EventInput = Omit<Schemas['NewEvent'], 'id'>

/** An event as it was, to be written again. */
export function inputOfEvent(e: Schemas['EventView']): EventInput {
  return {
    kind: e.kind,
    planned_on: e.planned_on || undefined,
    happened_on: e.happened_on || undefined,
    head: e.head,
    from_id: e.from_id || undefined,
    into_id: e.into_id || undefined,
    of_id: e.of_id || undefined,
    weight_kg: e.weight_kg,
    becomes: e.becomes || undefined,
    intake_share: e.intake_share,
    daily_gain_kg: e.daily_gain_kg,
    note: e.note || undefined,
    confirmed: true,
  }
}
