import type { Schemas } from '../../api/client'

export type Lever = Schemas['Lever']
export type Kind = Lever['kind']

/** What a lever is asked beside its kind. */
export type Asked =
  | 'paddock'
  | 'mob'
  | 'into'
  | 'class'
  | 'school'
  | 'days'
  | 'after'
  | 'kg'
  | 'waste'
  | 'count'
  | 'area'
  | 'bale'
  | 'price'
  | 'hours'

interface Words {
  kind: Kind
  label: string
  asks: Asked[]
  /** what its days are */
  days?: string
  /** what its kilograms are */
  kg?: string
  kgUnit?: string
  /** what its price is for */
  price?: string
  /** the mob they go to; with an answer for none */
  into?: { label: string; none?: string }
}

/** The levers, what takes from a surplus first. */
export const levers: Words[] = [
  { kind: 'pass', label: 'Pass over a paddock', asks: ['paddock', 'days'], days: 'Leave it out for' },
  {
    kind: 'cut',
    label: 'Cut now',
    asks: ['paddock', 'waste', 'bale', 'price', 'hours'],
    price: 'Cost a hectare',
  },
  { kind: 'close', label: 'Close up until…', asks: ['paddock', 'days'], days: 'Closed for' },
  { kind: 'reopen', label: 'Re-open', asks: ['paddock'] },
  { kind: 'top', label: 'Top it', asks: ['paddock', 'price', 'hours'], price: 'Cost a hectare' },
  { kind: 'pace', label: 'Slow down, or speed up', asks: ['mob', 'days'], days: 'Round in' },
  {
    kind: 'supplement',
    label: 'Supplement',
    asks: ['mob', 'kg', 'days', 'after', 'waste', 'price', 'hours'],
    days: 'For',
    kg: 'Dry matter a head and day',
    kgUnit: 'kg_head_day',
    price: 'Cost a tonne',
  },
  {
    kind: 'head',
    label: 'Sell, move out, bring in',
    asks: ['mob', 'class', 'count', 'after', 'price'],
    price: 'Cost a head',
  },
  {
    kind: 'wean',
    label: 'Wean early',
    asks: ['mob', 'class', 'into', 'after'],
    into: { label: 'They go', none: 'off the grass' },
  },
  {
    kind: 'nitrogen',
    label: 'Nitrogen',
    asks: ['paddock', 'kg', 'after', 'price', 'hours'],
    kg: 'Nitrogen a hectare',
    kgUnit: 'kg_ha',
    price: 'Cost a kg',
  },
  { kind: 'rent', label: 'Rent ground', asks: ['area', 'price'], price: 'Cost a hectare' },
  { kind: 'reserve', label: 'Open the reserve', asks: [] },
  {
    kind: 'house',
    label: 'House, or yard',
    asks: ['mob', 'days', 'after', 'waste', 'price', 'hours'],
    days: 'For',
    price: 'Cost a tonne fed',
  },
  {
    kind: 'loafing',
    label: 'Feed on resting ground',
    asks: ['mob', 'days', 'after', 'waste', 'price', 'hours'],
    days: 'For',
    price: 'Cost a tonne fed',
  },
  { kind: 'split', label: 'Split a mob', asks: ['mob', 'class', 'count'] },
  { kind: 'join', label: 'Join two mobs', asks: ['mob', 'into'], into: { label: 'Go with' } },
  { kind: 'school', label: 'Another school', asks: ['mob', 'school'] },
]

export const wordsOf = (kind: Kind) => levers.find((l) => l.kind === kind)!
