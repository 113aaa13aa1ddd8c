import table from '../api/units.json'

// The table is generated from core/quantity: this module only applies it.
export type System = 'metric' | 'imperial'

export interface Scale {
  symbol: string
  factor: number
  offset: number
  decimals: number
}

const scales = new Map(table.map((row) => [row.unit, row]))

export function scale(unit: string, system: System): Scale {
  const row = scales.get(unit) ?? scales.get('')!
  return system === 'imperial' ? row.imperial : row.metric
}

/** Groups thousands with a no-break space. */
export function grouped(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals)
  const [whole = '', part] = text.split('.')
  const spaced = whole.replace(/\B(?=(\d{3})+(?!\d))/g, '\u00a0')
  const sign = value < 0 && Number(text) !== 0 ? '−' : ''
  return sign + spaced + (part ? '.' + part : '')
}

/** The number a person reads, without its unit. Small figures keep enough digits to mean something. */
export function number(value: number, unit: string, system: System, decimals?: number): string {
  const s = scale(unit, system)
  const shown = value * s.factor + s.offset
  let d = decimals ?? s.decimals
  if (decimals === undefined && shown !== 0 && Math.abs(shown) < 10 ** -d)
    d = Math.min(4, 1 - Math.floor(Math.log10(Math.abs(shown))))
  return grouped(shown, d)
}

/** The number and its unit, kept on one line. */
export function withUnit(value: number, unit: string, system: System, decimals?: number): string {
  const s = scale(unit, system)
  const n = number(value, unit, system, decimals)
  const symbol = s.symbol === 'days' && n === '1' ? 'day' : s.symbol
  return symbol ? `${n}\u00a0${symbol}` : n
}

/** What a person typed, as the figure that is stored. */
export function stored(shown: number, unit: string, system: System): number {
  const s = scale(unit, system)
  return (shown - s.offset) / s.factor
}

/** A stored figure for an input field: plain digits, no more than are meant. */
export function editable(value: number, unit: string, system: System): string {
  const s = scale(unit, system)
  return String(Number((value * s.factor + s.offset).toPrecision(6)))
}
