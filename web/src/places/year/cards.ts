import type { Schemas } from '../../api/client'
import { house } from '../../ui/house.svelte'
import { number, withUnit } from '../../ui/units'

type Option = Schemas['Option']

/** A card in words: what, where, how much, in which month. */
export function cardName(c: Option, means: Schemas['YearMeans'], rows: Schemas['BudgetMonth'][]): string {
  const month = rows[c.month]?.from ?? rows[0]!.from
  return [
    c.input === 'rent'
      ? `Rented ground, ${withUnit(c.area_ha ?? 0, 'ha', house.system)}`
      : c.input === 'divide'
        ? 'A further division'
        : (means.inputs.find((i) => i.id === c.input)?.name ?? `Head of ${means.groups[c.group ?? 0]}`),
    means.fields.find((f) => f.id === c.field_id)?.name ?? '',
    c.tonnes ? `${number(c.tonnes, '', house.system, 0)} t` : '',
    c.head ? `${c.head > 0 ? '+' : ''}${number(c.head, '', house.system, 0)}` : '',
    new Date(month).toLocaleDateString('en', { month: 'long', timeZone: house.farm?.time_zone }),
  ]
    .filter(Boolean)
    .join(' · ')
}
