import { api, ask, type Schemas } from '../../api/client'
import { outbox } from '../../api/outbox.svelte'
import type { Write } from '../../api/write.svelte'
import { house } from '../../ui/house.svelte'

/**
 * Keeps a move with the farm; where no answer comes it is held here under the same id, and goes by itself: if it did arrive, it does not
 * count twice. told is what is said of it once it is kept, says what it is called while it is held; done is called in either case.
 */
export async function keepMove(
  write: Write,
  farm: string,
  body: Schemas['NewMove'],
  told: string,
  says: string,
  done: () => void,
) {
  const undo = () => outbox.takeBack(farm, 'move', body.id)
  const went = await write.send(() => ask(api.POST('/api/farms/{farm}/moves', { params: { path: { farm } }, body })), {
    say: (list) => {
      const made = list.find((m) => m.id === body.id)
      return made?.shared_with ? `${told}. ${made.shared_with} are in there too: two mobs in one paddock.` : `${told}.`
    },
    undo: body.replaces_id ? undefined : undo,
    then: done,
  })
  if (went || write.refusal?.status !== 0) return
  await outbox.hold({ farm, id: body.id, kind: 'move', body, says, tried: true })
  house.say(`${says}: held here, safe. It goes to the farm by itself.`, body.replaces_id ? undefined : undo)
  done()
}
