import { house } from './house.svelte'
import { number, scale } from './units'

/** A sum in the farm's money. */
export function money(amount: number): string {
  return `${number(amount, '', house.system, 0)} ${house.farm?.currency || 'of your money'}`
}

/** A price of so much a hectare or tonne, as the farm counts them. */
export function price(amount: number, unit: 'per_ha' | 'per_t' | 'head'): string {
  if (unit === 'head') return `${money(amount)} a head`
  const each = scale(unit, house.system).symbol
  const shown = number(amount, unit, house.system, 0)
  return house.farm?.currency ? `${shown} ${house.farm.currency}${each}` : `${shown}${each} of your money`
}
