import type { Schemas } from '../../api/client'
import { house } from '../../ui/house.svelte'
import { number, withUnit } from '../../ui/units'

type Option = Schemas['Option']

/** What is asked of a card that is no input of the reference, as it is put down and priced. */
export const own = {
  head: { label: 'Head: more or fewer', price: 'A head that goes: what it would have left', of: 'A head less forgoes', unit: '' },
  wean: {
    label: 'Wean: young leave earlier',
    price: 'A young one that goes at weaning',
    of: 'A young one less forgoes',
    unit: '',
  },
  rent: {
    label: 'Rent: ground of somebody else’s',
    price: 'Ground that is rented, for its time',
    of: 'It costs',
    unit: 'per_ha',
  },
  divide: { label: 'Divide: a field in more parts', price: 'A further division', of: 'It costs', unit: 'per_ha' },
  top: { label: 'Top: so that it comes leafy', price: 'Topping', of: 'It costs', unit: 'per_ha' },
  behind: {
    label: 'Behind: goats or sheep on weeds and browse',
    price: 'A head of goats or sheep that comes behind',
    of: 'A head costs',
    unit: '',
  },
} as const

/** A card in words: what, where, how much, in which month. */
export function cardName(c: Option, means: Schemas['YearMeans'], rows: Schemas['BudgetMonth'][]): string {
  const month = rows[c.month]?.from ?? rows[0]!.from
  const group = means.groups[c.group ?? 0]
  const names: Record<string, string> = {
    rent: `Rented ground, ${withUnit(c.area_ha ?? 0, 'ha', house.system)}`,
    divide: 'A further division',
    top: 'Topping',
    behind: 'Goats or sheep behind',
    wean: `Weaning earlier, ${group}`,
  }
  const head = c.head ? number(Math.abs(c.head), 'head', house.system, 0) : ''
  return [
    c.input ? (names[c.input] ?? means.inputs.find((i) => i.id === c.input)?.name) : `Head of ${group}`,
    means.fields.find((f) => f.id === c.field_id)?.name ?? '',
    c.tonnes ? withUnit(c.tonnes, 't', house.system) : '',
    head && (c.input === 'wean' ? `${head} young go` : c.head! > 0 ? `${head} come` : `${head} go`),
    new Date(month).toLocaleDateString('en', { month: 'long', timeZone: house.farm?.time_zone }),
  ]
    .filter(Boolean)
    .join(' · ')
}
