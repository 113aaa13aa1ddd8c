/** So many of something, in words: “1 paddock”, “24 paddocks”. */
export function many(n: number, one: string, more = `${one}s`): string {
  return `${n.toLocaleString('en-GB').replace(/,/g, '\u00a0')} ${n === 1 ? one : more}`
}
