import { house } from '../ui/house.svelte'
import { api, ask, Refusal, type Schemas } from './client'
import { outbox } from './outbox.svelte'
import type { Write } from './write.svelte'

/** What is written down out there beside measurements and moves, by the route it goes to. */
export type RecordOf =
  | { route: 'jobs'; body: Schemas['NewJob'] }
  | { route: 'jobs/done'; body: Schemas['JobDone'] }
  | { route: 'looks'; body: Schemas['NewLook'] }
  | { route: 'treatments'; body: Schemas['NewTreatment'] }
  | { route: 'tallies'; body: Schemas['NewTally'] }
  | { route: 'trainings'; body: Schemas['NewTraining'] }
  /** back is the id of the joining again, should it be taken back */
  | { route: 'split'; mob: string; back: string; body: Schemas['NewSplit'] }
  | { route: 'join'; mob: string; body: Schemas['NewJoin'] }

/** Sends a record to its route. */
export function post(farm: string, record: RecordOf): Promise<unknown> {
  const params = { path: { farm } }
  switch (record.route) {
    case 'jobs':
      return ask(api.POST('/api/farms/{farm}/jobs', { params, body: record.body }))
    case 'jobs/done':
      return ask(api.POST('/api/farms/{farm}/jobs/done', { params, body: record.body }))
    case 'looks':
      return ask(api.POST('/api/farms/{farm}/looks', { params, body: record.body }))
    case 'treatments':
      return ask(api.POST('/api/farms/{farm}/treatments', { params, body: record.body }))
    case 'tallies':
      return ask(api.POST('/api/farms/{farm}/tallies', { params, body: record.body }))
    case 'trainings':
      return ask(api.POST('/api/farms/{farm}/trainings', { params, body: record.body }))
    case 'split':
      return ask(api.POST('/api/farms/{farm}/mobs/{id}/split', { params: { path: { farm, id: record.mob } }, body: record.body }))
    case 'join':
      return ask(api.POST('/api/farms/{farm}/mobs/{id}/join', { params: { path: { farm, id: record.mob } }, body: record.body }))
  }
}

/** Takes a record back at the farm. */
export function unpost(farm: string, record: RecordOf | { route: 'tallies'; body: { id: string } }): Promise<unknown> {
  const id = record.route === 'jobs/done' ? record.body.job_id : record.body.id
  const at = { params: { path: { farm, id } } }
  switch (record.route) {
    case 'jobs':
    case 'jobs/done':
      return ask(api.DELETE('/api/farms/{farm}/jobs/{id}', at))
    case 'looks':
      return ask(api.DELETE('/api/farms/{farm}/looks/{id}', at))
    case 'split': // those that went join again
      return ask(
        api.POST('/api/farms/{farm}/mobs/{id}/join', {
          params: { path: { farm, id: record.body.id } },
          body: { id: record.back, into_mob_id: record.mob, at: record.body.at },
        }),
      )
    case 'join':
      return Promise.reject(new Refusal(422, 'Split them off again: a joining is not taken back by itself.', [], true))
    case 'tallies':
      return ask(api.DELETE('/api/farms/{farm}/tallies/{id}', at))
    case 'trainings':
      return ask(api.DELETE('/api/farms/{farm}/trainings/{id}', at))
    case 'treatments':
      return ask(api.DELETE('/api/farms/{farm}/treatments/{id}', at))
  }
}

/**
 * Keeps a record with the farm; where no answer comes it is held here under the same id, and goes by itself. says is what it is called; done
 * is called in either case.
 */
export async function keepRecord(write: Write, farm: string, record: RecordOf, says: string, done: () => void) {
  const undo = record.route === 'join' ? undefined : () => outbox.takeRecordBack(farm, record)
  const went = await write.send(() => post(farm, record), { say: `${says}.`, undo, then: done })
  if (went || write.refusal?.status !== 0) return
  await outbox.hold({ farm, id: record.body.id, kind: 'record', body: record, says, tried: true })
  house.say(`${says}: held here, safe. It goes to the farm by itself.`, undo)
  done()
}
