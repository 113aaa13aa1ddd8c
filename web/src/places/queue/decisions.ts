import { api, ask } from '../../api/client'

/** Takes a decision back with all that it wrote. */
export const takeBack = (farm: string, id: string) =>
  ask(api.DELETE('/api/farms/{farm}/queue/decisions/{id}', { params: { path: { farm, id } } }))
