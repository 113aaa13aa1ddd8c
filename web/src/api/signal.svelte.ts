// Whether answers come over the network or were kept by this device. Each question carries a mark that the server sends back:
// an answer with another mark is one from before.

const header = 'Fjell-Asked'

class Signal {
  /** since when what is shown was kept here; null: it came from the farm just now */
  keptSince = $state<Date | null>(null)
  /** whether the account and its farms, and with them the farm's clock, came over the network */
  clockIsLive = false
  /** why this device keeps nothing for where there is no signal; empty: it does */
  keepsNothing = $state('')
  #marks = new WeakMap<Request, string>()

  asks(request: Request) {
    const mark = crypto.randomUUID()
    request.headers.set(header, mark)
    this.#marks.set(request, mark)
  }

  came(request: Request, response: Response) {
    const mark = this.#marks.get(request)
    if (!mark || !response.ok) return
    const live = response.headers.get(header) === mark
    if (new URL(request.url).pathname === '/api/me') this.clockIsLive = live
    if (live) this.keptSince = null
    else this.keptSince = new Date(response.headers.get('Date') ?? Number.NaN)
  }
}

export const signal = new Signal()
