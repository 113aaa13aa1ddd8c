// What an answer brings to the next sum: figures travel by their key, and say where they come from.

interface Carried {
  value: number
  from: string
}

const carried = new Map<string, Carried>()

/** Keeps the figures of one sum for the next ones; from is the sum's name. */
export function keep(out: unknown, from: string) {
  if (!out || typeof out !== 'object' || Array.isArray(out)) return
  for (const [key, value] of Object.entries(out)) if (typeof value === 'number') carried.set(key, { value, from })
}

export function brought(key: string): Carried | undefined {
  return carried.get(key)
}
