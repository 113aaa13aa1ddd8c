import { flushSync } from 'svelte'
import { MediaQuery } from 'svelte/reactivity'

/** A screen as narrow as a phone's, or one magnified until it is: lists before charts, panels as sheets from below. Paper is none. */
export const phone = new MediaQuery('screen and (max-width: 767px)')

/** Whether the page is being printed: whole lists, nothing that only shows what is in sight. */
class Paper {
  current = $state(false)

  constructor() {
    const print = (on: boolean) => () => flushSync(() => (this.current = on)) // paper does not wait
    addEventListener('beforeprint', print(true))
    addEventListener('afterprint', print(false))
  }
}

export const paper = new Paper()
