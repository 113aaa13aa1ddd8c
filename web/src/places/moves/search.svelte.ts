import { api, ask, newId, pressed, type Schemas } from '../../api/client'
import { Write } from '../../api/write.svelte'
import { house } from '../../ui/house.svelte'
import { withUnit } from '../../ui/units'

type Found = Schemas['SearchView']

/** Below this many kg nobody would do anything differently. */
export const little = 50

/** How often a search begins a round again that somebody wrote into. */
const mostAgain = 5

/** A search for a better plan, round by round. Each round is kept, so it may stop after any. */
export class Search {
  /** rounds that are done of the search on its way; nothing where none is */
  done = $state<number | null>(null)
  of = $state(3)
  spared = $state(0)
  stopping = $state(false)
  write = new Write()
  /** a round whose answer was lost: it may be kept, and is asked again as it was */
  #lost: { search: string; round: number } | null = null

  async start(farm: string) {
    if (this.done !== null) return
    this.done = this.#lost?.round ?? 0
    this.spared = 0
    this.stopping = false
    const { search: search_id, round: first } = this.#lost ?? { search: newId(), round: 0 }
    let found: Found | undefined
    let again = 0 // a round in which somebody wrote something is made once more, from what holds now
    for (let round = first; round < this.of && !this.stopping; round++) {
      const went = await this.write.send(
        () =>
          ask(
            api.POST('/api/farms/{farm}/plan/search', {
              params: { path: { farm } },
              body: { id: this.write.id(), search_id, round },
            }),
          ),
        {
          // The page asks for the plan anew: an answer that was long under way may be older than what stands there.
          then: (plan) => {
            found = plan.search
            this.done = round + 1
            this.of = found?.rounds_in_all ?? this.of
            this.spared = found?.spared_kg ?? 0
          },
        },
      )
      const refusal = this.write.refusal
      this.#lost = refusal && !refusal.definite ? { search: search_id, round } : null
      if (!went && refusal?.at('search') && again++ < mostAgain) round--
      else if (!went) break
    }
    this.done = null
    if (this.write.refusal) house.mention(this.write.refusal.message)
    else if (found)
      house.mention(
        found.spared_kg < little
          ? 'Nothing better to speak of was found: the plan stays.'
          : `The plan now spares ${withUnit(found.spared_kg, 'kg', house.system, 0)} over what it was.`,
        found.spared_kg < little ? undefined : () => dropped(farm, search_id),
      )
  }

  /** No further round is begun; what is there so far is the plan. */
  stop() {
    this.stopping = true
  }
}

const dropped = (farm: string, id: string) =>
  ask(api.DELETE('/api/farms/{farm}/plan/search/{id}', { params: { path: { farm, id }, header: pressed } }))
