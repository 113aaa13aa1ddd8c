import type { ComponentProps } from 'svelte'
import type Icon from './Icon.svelte'

// The places in the order of the work; only those that work are listed.
export interface Place {
  key: string
  label: string
  icon: ComponentProps<typeof Icon>['name']
  question: string
}

const all: Place[] = [
  { key: 'today', label: 'Today', icon: 'today', question: 'What do I do now?' },
  { key: 'land', label: 'Land', icon: 'land', question: 'How do I divide this?' },
  { key: 'stock', label: 'Stock', icon: 'stock', question: 'What do they eat?' },
  { key: 'walk', label: 'Walk', icon: 'walk', question: 'What stands out there?' },
  { key: 'queue', label: 'Queue', icon: 'queue', question: 'Am I ahead or behind, and what if?' },
  { key: 'moves', label: 'Moves', icon: 'moves', question: 'Where do they go, and when back?' },
  { key: 'year', label: 'Year', icon: 'year', question: 'Will it last?' },
]

// Hands see what they do: today, the walk, and their sheet of moves.
const forHands = ['today', 'walk', 'moves']

/** The places that somebody sees, by their role on the farm. */
export const placesFor = (role: string | undefined): Place[] =>
  role === 'hand'
    ? all
        .filter((p) => forHands.includes(p.key))
        .map((p) => (p.key === 'moves' ? { ...p, label: 'Sheet', question: 'What is moved, and when?' } : p))
    : all
