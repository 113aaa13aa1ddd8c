import { tick } from 'svelte'
import { house } from '../ui/house.svelte'
import { newId, Refusal } from './client'
import { refresh } from './queries.svelte'

// The one way to write. Everything a person presses that changes something goes through it, so that nothing fails in
// silence and nothing counts twice.

/** What follows when it went. */
interface After<T> {
  /** a short word at the foot of the page */
  say?: string | ((answer: T) => string)
  /** how it is taken back */
  undo?: (answer: T) => Promise<unknown>
  /** what the form does then, before the pages are asked again and it is said */
  then?: (answer: T) => unknown
}

export class Write {
  /** it is on its way: a second tap sends nothing */
  busy = $state(false)
  /** why it did not go, until it goes or is tried again */
  refusal = $state<Refusal | null>(null)
  /** strange figures were read back, and are so */
  confirmed = $state(false)
  #ids = new Map<string, string>()
  #lost = false // an answer did not come: the record may be there

  /**
   * The id of what is being made, the same for every press until the farm has answered: an answer that was lost must not
   * lead to a second record. A form that makes several things in one press names each part.
   */
  id(part = ''): string {
    const id = this.#ids.get(part) ?? newId()
    this.#ids.set(part, id)
    return id
  }

  /** What stands there now, where another hand was faster. */
  get stored() {
    return this.refusal?.stored ?? null
  }

  /** The sentence for a field; what is only strange is read back for the form as a whole. */
  at(field: string): string | undefined {
    return this.refusal?.unusual ? undefined : this.refusal?.at(field)
  }

  /** Sends a write and says how it went; true when it went. */
  async send<T>(work: () => Promise<T>, after: After<T> = {}): Promise<boolean> {
    if (this.busy) return false
    this.busy = true
    const form = document.activeElement?.closest('form, section, dialog') // a button that is busy loses the keyboard
    try {
      const answer = await work()
      this.#settled()
      this.refusal = null
      this.confirmed = false
      const { undo, say } = after
      const said = typeof say === 'function' ? say(answer) : say // while the form is still there to be asked
      await after.then?.(answer)
      this.busy = false // the next may be pressed while the pages are asked again
      await refresh()
      if (said) house.say(said, undo && (() => undo(answer)))
      return true
    } catch (error) {
      this.refusal = this.#worded(error)
      if (this.refusal.definite) this.#settled()
      else this.#lost = true
      void tick().then(() => form?.querySelector('[role=alert]')?.scrollIntoView({ block: 'center' })) // however far above the press
      if (this.refusal.status === 409 || this.refusal.status === 412) await refresh()
      if (!(error instanceof Refusal)) throw error
      return false
    } finally {
      this.busy = false
    }
  }

  #settled() {
    this.#ids.clear()
    this.#lost = false
  }

  #worded(error: unknown): Refusal {
    if (!(error instanceof Refusal))
      return new Refusal(0, 'Something went wrong in this page. Load it anew and look whether it is there.', [], false)
    if (error.status === 0)
      return new Refusal(
        0,
        'No answer from Fjell: we do not know whether it arrived. Try again: it will not count twice.',
        [],
        false,
      )
    if (error.status === 409 && this.#lost)
      return new Refusal(409, 'It did arrive the first time, as you had it then. Change it where it stands now.', [], false)
    return error
  }
}

/** A press without a form of its own: what it is refused for is said at the foot of the page. */
export async function press<T>(work: () => Promise<T>, after: After<T> = {}): Promise<boolean> {
  const write = new Write()
  const went = await write.send(work, after)
  if (!went && write.refusal) house.say(write.refusal.message)
  return went
}
