import { Refusal, type Schemas } from '../api/client'
import { refresh } from '../api/queries.svelte'
import type { System } from './units'

// What every place shares: the farm it is on, what the shoulder shows, the day that was chosen, a short word at the foot.

export type FigureOf = Schemas['Figure']
export type FarmView = Schemas['FarmView']

export interface Shown {
  title: string
  figure: FigureOf
}

interface Notice {
  text: string
  undo?: () => Promise<unknown>
}

interface Question {
  text: string
  answer: (yes: boolean) => void
}

/** A place that keeps its own steps on the server, so that they can be undone after a reload too. */
interface Steps {
  undo: () => Promise<unknown>
  redo: () => Promise<unknown>
}

class House {
  farm = $state<FarmView | null>(null)
  /** the session ended under the hands of its person, who signs in over the page */
  signedOut = $state(false)
  /** whose hands these are: the id of the account that is signed in */
  person = $state('')
  /** units of the pocket sums when nobody is on a farm */
  loose = $state<System>('metric')
  working = $state<Shown | null>(null)
  chosenDay = $state<number | null>(null)
  notice = $state<Notice | null>(null)
  /** the keypad fills the screen: nothing may lie over it */
  measuring = $state(false)
  keysOn = $state(localStorage.getItem('fjell.keys') !== 'off')
  keysShown = $state(false)
  finderShown = $state(false)
  /** what somebody must say yes or no to before it goes on */
  question = $state<Question | null>(null)
  /** what somebody chose for this device; as the device says unless they did */
  light = $state(localStorage.getItem('fjell.theme') ?? 'device')
  /** what holds now */
  theme = $state('light')
  steps: Steps | null = null
  #undo: Notice[] = []
  #stepping = false

  get system(): System {
    return this.farm ? (this.farm.units === 'imperial' ? 'imperial' : 'metric') : this.loose
  }

  may(role: 'hand' | 'manager' | 'owner'): boolean {
    const order = ['viewer', 'hand', 'manager', 'owner']
    return order.indexOf(this.farm?.role ?? 'viewer') >= order.indexOf(role)
  }

  /** Says what was done; undo puts it back and stays on Ctrl+Z. */
  say(text: string, undo?: () => Promise<unknown>) {
    this.notice = { text, undo }
    if (undo) this.#undo.push(this.notice)
  }

  /** As say, but for what went on beside what somebody does: it is not said over something else. The step is undone like any. */
  mention(text: string, undo?: () => Promise<unknown>) {
    if (!this.notice) return this.say(text, undo)
    const shown = this.notice.undo ? 1 : 0 // what is shown is what the next undo takes back
    if (undo) this.#undo.splice(this.#undo.length - shown, 0, { text, undo })
  }

  /** Takes the last step back; one that cannot be taken back now stays, to be tried again. */
  async takeBack() {
    const last = this.#undo.at(-1)
    const undo = last?.undo ?? this.steps?.undo
    if (!undo || this.#stepping) return
    if (await this.#step(undo, last)) {
      if (last) this.#undo.splice(this.#undo.indexOf(last), 1)
      this.notice = { text: last ? `Taken back: ${last.text}` : 'Taken back.' }
    }
  }

  async doAgain() {
    if (this.steps && !this.#stepping) await this.#step(this.steps.redo)
  }

  async #step(work: () => Promise<unknown>, again?: Notice): Promise<boolean> {
    this.#stepping = true
    try {
      await work()
      await refresh() // it is said when it is seen: what is opened then stands as it is now
      return true
    } catch (error) {
      const why = error instanceof Refusal ? error.message : 'This could not be taken back: load the page anew and look.'
      this.notice = { text: why, undo: again?.undo }
      if (!(error instanceof Refusal)) throw error
      return false
    } finally {
      this.#stepping = false
    }
  }

  /** Asks, and waits for the answer. */
  asks(text: string): Promise<boolean> {
    return new Promise((resolve) => {
      this.question = {
        text,
        answer: (yes) => {
          this.question = null
          resolve(yes)
        },
      }
    })
  }

  setLight(light: string) {
    this.light = light
    localStorage.setItem('fjell.theme', light)
    this.dress()
  }

  /** Puts the page in the light that holds. */
  dress() {
    this.theme = this.light === 'device' ? (darkDevice.matches ? 'dark' : 'light') : this.light
    document.documentElement.dataset.theme = this.theme
  }

  setKeys(on: boolean) {
    this.keysOn = on
    localStorage.setItem('fjell.keys', on ? 'on' : 'off')
  }
}

const darkDevice = matchMedia('(prefers-color-scheme: dark)')
export const house = new House()
house.dress()
darkDevice.addEventListener('change', () => house.dress())
