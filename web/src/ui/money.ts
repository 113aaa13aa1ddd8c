import { house } from './house.svelte'
import { number } from './units'

/** A sum in the farm's money. */
export function money(amount: number): string {
  return `${number(amount, '', house.system, 0)} ${house.farm?.currency || 'of your money'}`
}
