import { Refusal } from './client'

/** Cards that lie on a table: what may be done, tried together, switched off, taken back. Nothing is written. */
export class Trial<Card extends { anyway?: boolean }, Answer> {
  cards = $state.raw<Card[]>([])
  off = $state.raw<Card[]>([])
  /** why what lies there cannot be worked out */
  refusal = $state.raw<Refusal | null>(null)
  /** no answer came */
  silent = $state(false)
  answer = $state.raw<Answer | null>(null)
  readonly on = $derived(this.cards.filter((c) => !this.off.includes(c)))
  #asked = 0

  add(card: Card): void {
    this.cards = [...this.cards, card]
  }
  drop(card: Card): void {
    this.cards = this.cards.filter((c) => c !== card)
    this.off = this.off.filter((c) => c !== card)
  }
  toggle(card: Card): void {
    this.off = this.off.includes(card) ? this.off.filter((c) => c !== card) : [...this.off, card]
  }
  /** Other cards take the table over. */
  put(cards: Card[]): void {
    this.cards = cards
    this.off = []
  }
  /** The last card is meant, although it is not for that ground. */
  anyway(): void {
    const last = this.on[this.on.length - 1]
    this.cards = this.cards.map((c) => (c === last ? { ...c, anyway: true } : c))
  }
  /** Works out what comes of it; of two askings the later one counts. Nothing to ask: nothing comes of it. */
  async ask(work: (() => Promise<Answer>) | null): Promise<void> {
    const mine = ++this.#asked
    this.refusal = null
    this.silent = false
    if (!work) {
      this.answer = null
      return
    }
    try {
      const answer = await work()
      if (mine === this.#asked) this.answer = answer
    } catch (error) {
      if (mine !== this.#asked) return
      if (error instanceof Refusal) this.refusal = error
      else this.silent = true
    }
  }
}
