import { Refusal, type Schemas } from '../api/client'
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

/** A place that keeps its own steps on the server, so that they can be undone after a reload too. */
interface Steps {
  undo: () => Promise<unknown>
  redo: () => Promise<unknown>
}

class House {
  farm = $state<FarmView | null>(null)
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
  theme = $state(localStorage.getItem('fjell.theme') ?? 'light')
  steps: Steps | null = null
  #undo: Notice[] = []

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

  async takeBack() {
    const last = this.#undo.pop()
    const undo = last?.undo ?? this.steps?.undo
    if (!undo) return
    try {
      await undo()
      this.notice = { text: last ? `Taken back: ${last.text}` : 'Taken back.' }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.notice = { text: error.message }
    }
  }

  async doAgain() {
    try {
      if (this.steps) await this.steps.redo()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.notice = { text: error.message }
    }
  }

  setTheme(theme: string) {
    this.theme = theme
    localStorage.setItem('fjell.theme', theme)
    document.documentElement.dataset.theme = theme
  }

  setKeys(on: boolean) {
    this.keysOn = on
    localStorage.setItem('fjell.keys', on ? 'on' : 'off')
  }
}

export const house = new House()
document.documentElement.dataset.theme = house.theme
