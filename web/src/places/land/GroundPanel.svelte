<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import type { FarmCanvas } from '../../map/drawn'
  import type { Lonlat } from '../../map/tools'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'

  interface Props {
    farm: string
    ground: Schemas['GroundView'] | undefined
    canvas: FarmCanvas | null
  }
  let { farm, ground, canvas }: Props = $props()

  const write = new Write()
  const refusal = $derived(write.refusal)
  let heights = $state<File | null>(null)
  let step = $state<number | null>(5)
  let epsg = $state('4326')
  let picture = $state<File | null>(null)
  let world = $state('')
  let corners = $state<Lonlat[]>([])
  let placing = $state(false)
  let leaving = $state('') // asked once: it would have to be brought again
  // svelte-ignore state_referenced_locally
  let tiles = $state(ground?.tile_address ?? '')

  const projections = [
    { value: '4326', label: 'longitude and latitude' },
    { value: '3857', label: 'Web Mercator' },
    ...[28, 29, 30, 31, 32, 33, 34, 35, 36, 37].map((z) => ({ value: `258${z}`, label: `ETRS89, UTM zone ${z} N` })),
    ...[10, 11, 12, 13, 14, 15, 16, 17, 18, 19].map((z) => ({ value: `326${z}`, label: `WGS 84, UTM zone ${z} N` })),
    ...[54, 55, 56, 59, 60].map((z) => ({ value: `327${z}`, label: `WGS 84, UTM zone ${z} S` })),
  ]

  const attempt = (said: string, work: () => Promise<unknown>) => write.send(work, { say: said })

  async function content(f: File): Promise<string> {
    const raw = new Uint8Array(await f.arrayBuffer())
    let text = ''
    for (let i = 0; i < raw.length; i += 32768) text += String.fromCharCode(...raw.subarray(i, i + 32768))
    return btoa(text)
  }

  const keepHeights = () =>
    attempt('The contours are drawn.', async () =>
      ask(
        api.POST('/api/farms/{farm}/land/heights', {
          params: { path: { farm } },
          body: {
            id: write.id(),
            file: heights!.name,
            content: await content(heights!),
            epsg: Number(epsg),
            contour_step_m: step ?? 0,
          },
        }),
      ),
    ).then((ok) => ok && (heights = null))

  const keepPicture = () =>
    attempt('The picture lies on the map.', async () =>
      ask(
        api.POST('/api/farms/{farm}/land/pictures', {
          params: { path: { farm } },
          body: {
            id: write.id(),
            name: picture!.name,
            content: await content(picture!),
            world_file: world || undefined,
            epsg: world ? Number(epsg) : undefined,
            corners: world ? undefined : corners,
          },
        }),
      ),
    ).then((ok) => {
      if (!ok) return
      picture = null
      corners = []
      world = ''
      canvas?.sketch(null)
    })

  function place() {
    placing = true
    corners = []
    const next = () =>
      canvas?.tools.draw('place', (path) => {
        corners.push(path[0]!)
        canvas?.sketch(corners.map((c) => ({ point: c })))
        if (corners.length < 3) next()
        else placing = false
      })
    next()
  }

  const which = ['top left', 'top right', 'bottom left']
</script>

<h2>Background map</h2>
<p class="text-sm text-soft">
  Paper with a grid needs nothing. Contours, a picture of your own or map tiles lie under the paddocks.
</p>
{#if ground && (ground.heights.length || ground.pictures.length)}
  <ul>
    {#each [...ground.heights.map( (h) => ({ ...h, what: 'contours' }) ), ...ground.pictures.map( (p) => ({ ...p, what: 'picture' }) )] as g (g.id)}
      <li class="flex min-h-11 items-center gap-2 border-b border-line">
        <span class="flex-1 truncate">{g.name} <span class="text-sm text-soft">{g.what}</span></span>
        <Button
          kind="quiet"
          label="{leaving === g.id ? 'Yes, take' : 'Take'} away {g.name}"
          onclick={() =>
            leaving !== g.id
              ? (leaving = g.id)
              : attempt(`${g.name} is gone.`, () =>
                  ask(api.DELETE('/api/farms/{farm}/land/ground/{id}', { params: { path: { farm, id: g.id } } })),
                )}>{leaving === g.id ? 'Yes, take away' : 'Take away'}</Button
        >
      </li>
    {/each}
  </ul>
{/if}
<section class="flex flex-col gap-3">
  <h3>Contours from heights</h3>
  <label class="flex flex-col gap-1 text-sm font-semibold"
    >GeoTIFF, ASC grid, or .csv of latitude, longitude, height
    <input
      type="file"
      accept=".tif,.tiff,.asc,.csv,.txt"
      class="rounded-lg border border-soft bg-surface p-2 font-normal"
      onchange={(e) => (heights = e.currentTarget.files?.[0] ?? null)}
    /></label
  >
  {#if heights}
    <NumberField label="Height between lines" unit="m" bind:value={step} error={refusal?.at('contour_step_m')} />
    {#if heights.name.toLowerCase().endsWith('.asc')}<Choice
        label="Its projection"
        bind:value={epsg}
        options={projections}
      />{/if}
    <div><Button kind="main" onclick={keepHeights}>Draw the contours</Button></div>
  {/if}
</section>
<section class="flex flex-col gap-3">
  <h3>Your own picture</h3>
  <label class="flex flex-col gap-1 text-sm font-semibold"
    >PNG or JPEG, at most 15 MB
    <input
      type="file"
      accept="image/png,image/jpeg"
      class="rounded-lg border border-soft bg-surface p-2 font-normal"
      onchange={(e) => (picture = e.currentTarget.files?.[0] ?? null)}
    /></label
  >
  {#if picture}
    <label class="flex flex-col gap-1 text-sm font-semibold"
      >Its world file (.pgw, .jgw, .wld), if there is one
      <input
        type="file"
        accept=".pgw,.jgw,.wld,.pngw,.jpgw,.txt"
        class="rounded-lg border border-soft bg-surface p-2 font-normal"
        onchange={async (e) => (world = (await e.currentTarget.files?.[0]?.text()) ?? '')}
      /></label
    >
    {#if world}
      <Choice label="Its projection" bind:value={epsg} options={projections} />
    {:else}
      <p>
        {placing
          ? `Click where the picture's ${which[corners.length]} corner lies.`
          : corners.length === 3
            ? 'Three corners are placed.'
            : 'Or place three of its corners by hand.'}
      </p>
      <div><Button onclick={place}>{corners.length === 3 ? 'Place them again' : 'Place three corners'}</Button></div>
    {/if}
    <div><Button kind="main" disabled={!world && corners.length < 3} onclick={keepPicture}>Lay it on the map</Button></div>
  {/if}
</section>
<section class="flex flex-col gap-3">
  <h3>Map tiles</h3>
  <TextField
    label="Address, with {'{z}'}, {'{x}'} and {'{y}'}"
    bind:value={tiles}
    error={refusal?.at('address')}
    hint="Off unless you give one. Fjell fetches them from a public address: whoever serves them then sees where you look."
  />
  <div>
    <Button
      onclick={() =>
        attempt(tiles ? 'Tiles are on.' : 'Tiles are off.', () =>
          ask(
            api.PUT('/api/farms/{farm}/land/tiles', {
              params: { path: { farm }, header: { 'If-Match': ground?.version ?? 0 } },
              body: { address: tiles },
            }),
          ),
        )}>{tiles ? 'Use these tiles' : 'No tiles'}</Button
    >
  </div>
</section>
<Refused {refusal} shown={['address', 'contour_step_m']} />
