import { Refusal } from './client'

/** What a form asks and nothing keeps: its answer, or why there is none. */
export class Question<T> {
  answer = $state.raw<T | null>(null)
  refusal = $state.raw<Refusal | null>(null)
  #asked = 0

  /** The sentence for a field. */
  at(field: string): string | undefined {
    return this.refusal?.at(field)
  }

  /** What is said where none of the fields that are shown is to blame. */
  beside(...shown: string[]): string {
    const r = this.refusal
    if (!r || shown.some((field) => r.at(field))) return ''
    return r.fields[0]?.message ?? r.message
  }

  /** Asks; of two askings the later one counts, whichever answer comes first. */
  async ask(work: () => Promise<T>): Promise<void> {
    const mine = ++this.#asked
    this.refusal = null
    try {
      const answer = await work()
      if (mine === this.#asked) this.answer = answer
    } catch (error) {
      if (mine !== this.#asked) return
      this.answer = null
      this.refusal = error instanceof Refusal ? error : new Refusal(0, 'No signal: it is worked out at the farm.', [], false)
    }
  }
}
