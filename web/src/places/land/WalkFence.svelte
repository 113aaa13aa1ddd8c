<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import { isHeld } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'

  // The receiver's positions as one walks. In the demo a simulated walk stands in for the receiver.
  interface Props {
    farm: string
    canvas: FarmCanvas | null
    ondone: (shape: GroundShape | null) => void
  }
  let { farm, canvas, ondone }: Props = $props()

  type Fix = Schemas['Fix']
  const poor = 12

  let fixes = $state<Fix[]>([])
  let refused = $state(0)
  let walking = $state(false)
  let said = $state('')
  let track = $state<Schemas['TrackView'] | null>(null)
  let watch = 0
  let timer: ReturnType<typeof setInterval> | undefined

  const last = $derived(fixes[fixes.length - 1])

  onMount(() => stop)

  function stop() {
    walking = false
    if (watch) navigator.geolocation.clearWatch(watch)
    clearInterval(timer)
    watch = 0
  }

  function begin() {
    fixes = []
    refused = 0
    track = null
    said = ''
    walking = true
    ondone(null)
  }

  function step(fix: Fix) {
    // A poor fix is kept for the count and refused for the boundary, here and on the server.
    if (fix.accuracy_m > poor) refused++
    fixes.push(fix)
    const good = fixes.filter((f) => f.accuracy_m <= poor)
    canvas?.tools.walker(
      good.map((f) => [f.longitude, f.latitude]),
      fix.accuracy_m,
    )
  }

  function walk() {
    if (!navigator.geolocation) {
      said = 'This browser gives no position. Over a network it does so only with https.'
      return
    }
    begin()
    watch = navigator.geolocation.watchPosition(
      (p) =>
        step({
          longitude: p.coords.longitude,
          latitude: p.coords.latitude,
          accuracy_m: p.coords.accuracy,
          seconds: p.timestamp / 1000,
        }),
      (e) => {
        said =
          e.code === e.PERMISSION_DENIED
            ? 'The browser was told not to give the position. Allow it for this page; over a network that needs https.'
            : 'No position yet. Step out from under roofs and trees.'
        if (e.code === e.PERMISSION_DENIED) stop()
      },
      { enableHighAccuracy: true, maximumAge: 0, timeout: 30000 },
    )
  }

  async function simulate() {
    const all = await ask(api.GET('/api/farms/{farm}/land/simulated-walk', { params: { path: { farm } } }))
    begin()
    let i = 0
    timer = setInterval(() => {
      if (i < all.length) step(all[i++]!)
      else void finish()
    }, 25)
  }

  async function finish() {
    stop()
    try {
      track = await ask(
        api.POST('/api/farms/{farm}/land/track', { params: { path: { farm } }, body: { fixes: $state.snapshot(fixes) } }),
      )
      canvas?.tools.stop()
      canvas?.sketch([{ shape: track.shape as GroundShape }])
      ondone(track.shape as GroundShape)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      said = error.message
    }
  }
</script>

{#if track}
  <div>
    <p class="figure text-[40px] leading-none">{withUnit(track.area_ha, 'ha', house.system)}</p>
    <p class="mt-1 text-sm text-soft">a square of {withUnit(track.square_m, 'm', house.system, 0)} a side</p>
  </div>
  <dl class="grid grid-cols-[1fr_auto] gap-y-1.5">
    <dt class="text-soft">From the last step to the first</dt>
    <dd><Figure value={track.gap_m} unit="m" decimals={0} /></dd>
    <dt class="text-soft">Poor fixes refused</dt>
    <dd class="figure text-right">{track.poor}</dd>
    <dt class="text-soft">Leaps of the receiver dropped</dt>
    <dd class="figure text-right">{track.spikes}</dd>
  </dl>
{:else if walking}
  <div class="rounded-xl bg-sunken p-4">
    <p class="text-sm text-soft">The receiver knows the place to within</p>
    <p class="figure text-[40px] leading-none {last && last.accuracy_m > poor ? 'text-stop' : ''}">
      {last ? withUnit(last.accuracy_m, 'm', house.system, 0) : '…'}
    </p>
    {#if last && last.accuracy_m > poor}<p class="mt-1 font-semibold text-stop">
        Too poor: refused. Wait in the open, or walk on.
      </p>{/if}
  </div>
  <p>
    {fixes.length - refused} places so far{refused ? `, ${refused} refused` : ''}. Walk close along the fence, all the way around.
  </p>
{:else}
  <p>
    Walk or drive along the fence with the phone in hand. Fjell takes a corner wherever the fence bends, drops the receiver's
    leaps, and closes the line where you began.
  </p>
  <p class="text-sm text-soft">
    Walking alone near stock: keep a way out, leave bulls and cows with young calves alone, and never touch a fence that may be
    live.
  </p>
{/if}
{#if said}<p class="rounded-xl border-2 border-stop bg-stop-wash p-3 text-stop" role="alert">{said}</p>{/if}
<div class="flex flex-wrap gap-3">
  {#if walking}
    <Button kind="main" disabled={fixes.length < 4} onclick={() => void finish()}>I am back: close it</Button>
    <Button onclick={stop}>Stop</Button>
  {:else}
    <Button kind={track ? 'plain' : 'main'} onclick={walk}>{track ? 'Walk it again' : 'Start walking'}</Button>
    {#if isHeld()}<Button onclick={() => void simulate()}>Try a simulated walk</Button>{/if}
  {/if}
</div>
