import { untrack } from 'svelte'
import type { Stored } from '../api/client'
import { house } from './house.svelte'

// What is typed into a form is kept in the browser until it is kept at the farm: closing the form, another place, another
// hand's change and a reload lose nothing.

interface Kept {
  version: number
  typed: unknown
}

const prefix = 'fjell.draft.'

/** A form's text. Made while its component is, so that it follows what is typed. */
export class Draft<T> {
  /** what was typed before stands in the form again */
  restored = $state(false)
  /** the version of the record that the text rests on: what somebody else stores meanwhile is not written over unseen */
  version = $state(0)
  #key: string
  #start: string
  #record: number
  #write: (typed: T) => void
  #done = false

  /** read gives what is typed, write puts it back; version is the record's as it is now, 0 for something new. */
  constructor(form: string, version: number, read: () => T, write: (typed: T) => void) {
    this.#key = `${prefix}${house.person}.${house.farm?.id ?? ''}.${form}`
    this.#start = untrack(() => JSON.stringify(read()))
    this.#write = write
    this.#record = this.version = version
    const kept = this.#kept()
    if (kept && JSON.stringify(kept.typed) !== this.#start) {
      write(kept.typed as T)
      this.version = kept.version
      this.restored = true
    }
    $effect(() => {
      const typed = JSON.stringify(read())
      if (this.#done) {
        this.#start = typed // a form that stays open goes on from what was kept
        this.#done = false
      }
      if (typed === this.#start) localStorage.removeItem(this.#key)
      else localStorage.setItem(this.#key, JSON.stringify({ version: this.version, typed: JSON.parse(typed) }))
    })
  }

  #kept(): Kept | null {
    try {
      return JSON.parse(localStorage.getItem(this.#key) ?? 'null') as Kept | null
    } catch {
      return null // half-written: begun anew
    }
  }

  /** Puts back what the farm has. */
  anew() {
    this.#write(JSON.parse(this.#start) as T)
    this.version = this.#record
    this.restored = false
  }

  /** What was typed is to be kept in place of what somebody else stored. */
  over(stored: Stored) {
    this.version = stored.version
  }

  /** It is at the farm. */
  done() {
    this.#done = true
    this.restored = false
    localStorage.removeItem(this.#key)
  }
}

/** Forgets every draft of this browser; called as somebody signs out of a shared device. */
export function forgetDrafts() {
  for (const key of Object.keys(localStorage)) if (key.startsWith(prefix)) localStorage.removeItem(key)
}
