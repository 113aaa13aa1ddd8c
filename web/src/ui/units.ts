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
  if (decimals === undefined && unit === 'day')
    return grouped(shown, Math.abs(shown) >= 10 || Number.isInteger(Number(shown.toFixed(1))) ? 0 : 1)
  if (decimals === undefined && unit === 'ha' && Math.abs(shown) >= 100) return grouped(shown, Math.abs(shown) >= 1000 ? 0 : 1)
  if (decimals !== undefined || shown === 0 || whole.has(unit)) return grouped(shown, decimals ?? s.decimals)
  // Two digits that mean something: 7.2 kg a day of six sheep, 0.024 animal units on an acre of range.
  const meant = Math.min(4, 1 - Math.floor(Math.log10(Math.abs(shown))))
  if (meant <= s.decimals) return grouped(shown, s.decimals)
  return grouped(shown, Math.max(s.decimals, (String(Number(shown.toFixed(meant))).split('.')[1] ?? '').length))
}

/** As many decimals as it takes for four digits that mean something: enough to follow a working by hand. */
export function digits(value: number, unit: string, system: System): number {
  const s = scale(unit, system)
  const shown = Math.abs(value * s.factor + s.offset)
  if (shown === 0) return 0
  const most = Math.min(6, Math.max(0, 3 - Math.floor(Math.log10(shown))))
  return (String(Number(shown.toFixed(most))).split('.')[1] ?? '').length
}

/** What is counted one by one has no parts. */
const whole = new Set(['head', 'count'])

/** The number and its unit, kept on one line. */
export function withUnit(value: number, unit: string, system: System, decimals?: number): string {
  const s = scale(unit, system)
  if (unit === 'kg' && system === 'metric' && Math.abs(value) >= 10000 && decimals === undefined)
    return `${grouped(value / 1000, Math.abs(value) < 100000 ? 1 : 0)}\u00a0t`
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
  return String(Number((value * s.factor + s.offset).toPrecision(system === 'imperial' ? 5 : 6)))
}

/** A number as somebody typed it. */
export interface Typed {
  /** null: nothing, or no number */
  value: number | null
  /** what else it can mean, where a point or a comma may set thousands apart or tenths */
  or?: number
  wrong?: boolean
}

/**
 * Reads a number with a point or a comma for decimals and anything for thousands. 1,500 and 1.500 are taken for one thousand
 * five hundred, since nobody measures grass to the thousandth, and the other reading is offered.
 */
export function readNumber(text: string): Typed {
  const plain = text.replace(/[\s\u00a0\u2009\u202f'’]/g, '').replace('−', '-')
  if (plain === '') return { value: null }
  const marks = plain.match(/[.,]/g) ?? []
  const last = Math.max(plain.lastIndexOf('.'), plain.lastIndexOf(','))
  const grouped = /^-?[1-9]\d{0,2}([.,]\d{3})+$/.test(plain)
  const several = new Set(marks).size === 1 && marks.length > 1
  const decimal = (at: number) =>
    Number(plain.slice(0, at).replace(/[.,]/g, '') + (at < plain.length ? '.' + plain.slice(at + 1) : ''))
  const value =
    grouped && new Set(marks).size === 1
      ? Number(plain.replace(/[.,]/g, ''))
      : several
        ? NaN
        : decimal(last < 0 ? plain.length : last)
  if (Number.isNaN(value) || !/^-?[\d.,]+$/.test(plain)) return { value: null, wrong: true }
  return grouped && marks.length === 1 ? { value, or: decimal(last) } : { value }
}
