import { many } from './many'

// Of many rows of one height only those are drawn that are seen, with some above and below so that none is missing while the
// hand scrolls.

const around = 12

export class Seen {
  #top = $state(0)
  #height = $state(1200)
  #rows: () => number
  #rowHeight: number
  #above: () => number
  #box: HTMLElement | null = null

  /** above is what of the scrolled page lies over the first row, pixels. */
  constructor(rows: () => number, rowHeight: number, above: () => number = () => 0) {
    this.#rows = rows
    this.#rowHeight = rowHeight
    this.#above = above
  }

  readonly from = $derived.by(() => Math.max(0, Math.floor((this.#top - this.#above()) / this.#rowHeight) - around))
  readonly to = $derived.by(() =>
    Math.min(this.#rows(), Math.ceil((this.#top - this.#above() + this.#height) / this.#rowHeight) + around),
  )

  /** The room of the rows that are not drawn above, pixels. */
  get before(): number {
    return this.from * this.#rowHeight
  }

  get after(): number {
    return Math.max(0, this.#rows() - this.to) * this.#rowHeight
  }

  /** Follows the element that scrolls; an attachment. */
  readonly within = (box: HTMLElement) => {
    this.#box = box
    const look = () => {
      this.#top = box.scrollTop
      this.#height = box.clientHeight || 1200
    }
    const size = new ResizeObserver(look)
    size.observe(box)
    box.addEventListener('scroll', look, { passive: true })
    look()
    return () => {
      size.disconnect()
      box.removeEventListener('scroll', look)
    }
  }

  /** Brings a row into sight. */
  show(row: number) {
    const box = this.#box
    if (!box) return
    const y = this.#above() + row * this.#rowHeight
    if (y < box.scrollTop + this.#rowHeight || y > box.scrollTop + box.clientHeight - 2 * this.#rowHeight)
      box.scrollTop = Math.max(0, y - box.clientHeight / 2)
    this.#top = box.scrollTop
  }
}

/** What of a list is found by words typed; and how to say how many. */
export function found<T>(list: T[], words: string, name: (x: T) => string): T[] {
  const asked = words.trim().toLowerCase()
  return asked ? list.filter((x) => name(x).toLowerCase().includes(asked)) : list
}

export const sayFound = (n: number) => (n ? `${many(n, 'paddock')} found` : 'no paddock by that name')
