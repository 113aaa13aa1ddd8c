<script lang="ts" module>
  import type { Schemas } from '../api/client'

  export interface Card {
    id: string
    farm: string
    place: string
    longitude: number
    latitude: number
    emergency: Schemas['Emergency']
  }
  const kept = 'fjell.emergency'

  /** Keeps a farm's card on this phone for whoever picks it up, where the farm allows it; else forgets it. */
  export function keepCard(card: Card) {
    const cards = keptCards().filter((c) => c.id !== card.id)
    if (card.emergency.open_signed_out) cards.push(card)
    if (cards.length) localStorage.setItem(kept, JSON.stringify(cards))
    else localStorage.removeItem(kept)
  }

  /** The cards that may be opened on this phone by anybody. */
  export function keptCards(): Card[] {
    try {
      return JSON.parse(localStorage.getItem(kept) ?? '[]') as Card[]
    } catch {
      return [] // somebody wrote something else there
    }
  }
</script>

<script lang="ts">
  let { card }: { card: Card } = $props()

  const e = $derived(card.emergency)
  const at = $derived({ latitude: e.latitude ?? card.latitude, longitude: e.longitude ?? card.longitude })
  const position = $derived(`${at.latitude.toFixed(5)}, ${at.longitude.toFixed(5)}`)
</script>

<section class="flex flex-col gap-5" aria-label="Emergency card of {card.farm}">
  <p class="text-lg">
    First your own safety. Somebody hurt, fire or a road with stock on it: your country's emergency number before anybody here.
  </p>
  <ul class="flex flex-col gap-2.5">
    {#each e.contacts as c, i (i)}
      <li>
        <a
          class="flex min-h-16 flex-wrap items-center justify-between gap-x-3 rounded-xl border-2 border-stop bg-surface px-4 py-2 text-lg"
          href="tel:{c.phone.replace(/[^+\d]/g, '')}"
          ><span class="font-semibold text-ink">{c.who}</span><span class="figure shrink-0 text-xl text-stop">{c.phone}</span></a
        >
      </li>
    {:else}
      <li class="rounded-xl bg-now-wash p-4 text-now-ink">Nobody is named to call yet.</li>
    {/each}
  </ul>
  <div>
    <h2 class="!text-lg">Where to send them</h2>
    <p class="whitespace-pre-line">{e.where || `${card.farm}${card.place ? `, ${card.place}` : ''}`}</p>
    <p class="figure mt-1 text-2xl select-all" aria-label="Position: latitude, longitude">{position}</p>
    <p class="text-sm text-soft">
      {e.latitude === null ? 'The middle of the farm' : 'The gate to come to'}: latitude, longitude, degrees.
    </p>
  </div>
  {#if e.shut_first}
    <div>
      <h2 class="!text-lg">Shut first</h2>
      <p class="text-lg font-semibold whitespace-pre-line">{e.shut_first}</p>
    </div>
  {/if}
  {#if e.also}
    <div>
      <h2 class="!text-lg">Also</h2>
      <p class="whitespace-pre-line">{e.also}</p>
    </div>
  {/if}
</section>
