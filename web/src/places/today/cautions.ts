import type { Schemas } from '../../api/client'

/** A caution is quiet for a person who put it away while these same days of it were running. */
export const isPutAway = (list: Schemas['PutAway'][], farm: string, due: Schemas['DueView']) =>
  list.some((p) => p.farm_id === farm && p.caution === due.id && p.since >= due.since)
