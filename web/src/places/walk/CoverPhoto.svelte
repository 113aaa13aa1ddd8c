<script lang="ts">
  import { Refusal } from '../../api/client'
  import { core, loadCore } from '../../core/core'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'

  // How much of the ground is green, from one photo taken straight down: core splits it, the mask is laid over it, and the person accepts
  // or shifts it. The photo itself goes nowhere.
  let { onuse }: { onuse: (cover: number) => void } = $props()

  interface Found {
    canopy_cover: number
    threshold: number
    too_dark: number
    mask: string
  }
  const longest = 320 // points: enough to tell leaf from soil, and quick on any phone

  let picture = $state.raw<ImageData | null>(null)
  let found = $state.raw<Found | null>(null)
  let refusal = $state('')
  let shown = $state<HTMLCanvasElement | null>(null)
  let bare = $state(false)
  let asked = 0

  void loadCore().catch(() => {})

  async function taken(e: Event) {
    const file = (e.currentTarget as HTMLInputElement).files?.[0]
    if (!file) return
    refusal = ''
    try {
      const bitmap = await createImageBitmap(file)
      const scale = Math.min(1, longest / Math.max(bitmap.width, bitmap.height))
      const canvas = new OffscreenCanvas(Math.round(bitmap.width * scale), Math.round(bitmap.height * scale))
      const pen = canvas.getContext('2d')!
      pen.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
      picture = pen.getImageData(0, 0, canvas.width, canvas.height)
    } catch {
      refusal = 'This is not a picture that can be read here.'
      return
    }
    await look()
  }

  const base64 = (bytes: Uint8ClampedArray) => {
    let text = ''
    for (let i = 0; i < bytes.length; i += 32768) text += String.fromCharCode(...bytes.subarray(i, i + 32768))
    return btoa(text)
  }

  async function look(threshold?: number) {
    const [at, image] = [++asked, picture!]
    try {
      const answer = await core<Found>('cover', {
        pixels: base64(image.data),
        width: image.width,
        height: image.height,
        threshold,
      })
      if (at === asked) found = answer
    } catch (error) {
      found = null
      refusal = error instanceof Refusal ? error.message : 'This cannot be worked out here yet: open it once with a signal.'
    }
  }

  // The mask over the picture: leaf as it is, everything else washed out.
  $effect(() => {
    if (!shown || !picture || !found) return
    const { width, height, data } = picture
    shown.width = width
    shown.height = height
    const out = new ImageData(new Uint8ClampedArray(data), width, height)
    const mask = atob(found.mask)
    for (let i = 0; i < mask.length && !bare; i++) {
      if (mask.charCodeAt(i) === 1) continue
      for (let c = 0; c < 3; c++) out.data[4 * i + c] = 0.25 * data[4 * i + c]! + 0.75 * (c === 1 ? 214 : 228)
    }
    shown.getContext('2d')!.putImageData(out, 0, 0)
  })
</script>

<div class="flex flex-col gap-3 rounded-xl border border-line p-3">
  <label class="flex flex-col gap-1 font-semibold"
    >Photo straight down, from the height of your chest
    <input
      type="file"
      accept="image/*"
      capture="environment"
      class="block min-h-12 w-full text-base font-normal text-soft file:mr-4 file:min-h-12 file:cursor-pointer file:rounded-xl file:border-2 file:border-solid file:border-tarn file:bg-surface file:px-4 file:font-semibold file:text-tarn"
      onchange={taken}
    /></label
  >
  {#if refusal}<p class="font-semibold text-stop" role="alert">{refusal}</p>{/if}
  {#if found}
    <p role="status"><Figure value={found.canopy_cover} unit="share" size="huge" decimals={0} /> of it is green leaf</p>
    <canvas bind:this={shown} class="w-full rounded-lg">The photo, with all that is not leaf washed out</canvas>
    <label class="flex min-h-12 items-center gap-2"
      ><input type="checkbox" class="size-6 rounded border-soft" bind:checked={bare} />the photo alone</label
    >
    <label class="flex flex-col gap-1"
      >Wrong here and there? Count more as leaf, or less
      <input
        type="range"
        class="h-12 w-full accent-tarn"
        aria-label="Count more as leaf, or less"
        min="-0.5"
        max="0"
        step="0.01"
        value={-found.threshold}
        oninput={(e) => void look(-Number(e.currentTarget.value))}
      /></label
    >
    {#if found.too_dark > 0.1}<p class="text-sm text-soft">
        <Figure value={found.too_dark} unit="share" decimals={0} /> of it is too dark to tell, and left out.
      </p>{/if}
    <div><Button kind="main" onclick={() => onuse(found!.canopy_cover)}>Use it</Button></div>
  {:else}
    <p class="text-sm text-soft">
      Keep your feet and your shadow out of it. It stays on this phone: Fjell takes the share of green from it and lets it go.
    </p>
  {/if}
</div>
