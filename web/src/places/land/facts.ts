import type { Schemas } from '../../api/client'

/** What a person may change of a paddock, as the server takes it. */
export type Facts = Omit<Schemas['PaddockInput'], 'confirmed'>

export function facts(p: Schemas['PaddockView']): Facts {
  return {
    name: p.name,
    sward_id: p.sward_id,
    growth_factor: p.growth_factor,
    legume_share: p.legume_share ?? undefined,
    closed_for: p.closed_for,
    purpose: p.purpose as Facts['purpose'],
    slope_degrees: p.slope_degrees ?? undefined,
    wetness: p.wetness as Facts['wetness'],
    aspect: p.aspect as Facts['aspect'],
    shade: p.shade as Facts['shade'],
    has_water: p.has_water ?? undefined,
    limits: p.limits,
    rest_from: p.rest_from,
    notes: p.notes,
  }
}
