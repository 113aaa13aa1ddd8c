<script lang="ts">
  import Button from './Button.svelte'
  import { shrunk } from './photo'

  // The camera with an earlier photo over it, faint, so that the next is taken from the same spot and direction. Where there is no camera to be
  // had, the photo alone is shown.
  interface Props {
    before: string
    name: string
    onphoto: (blob: Blob) => void
  }
  let { before, name, onphoto }: Props = $props()

  let stream = $state.raw<MediaStream | null>(null)
  let video = $state<HTMLVideoElement | null>(null)
  let faint = $state(0.4)
  let problem = $state('')

  async function start() {
    problem = ''
    try {
      stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment', width: { ideal: 1600 } } })
    } catch {
      problem = 'No camera is to be had here: look at the photo, and take yours above.'
    }
  }
  $effect(() => {
    if (video && stream) video.srcObject = stream
  })
  $effect(() => {
    const running = stream
    return () => running?.getTracks().forEach((t) => t.stop())
  })

  async function take() {
    const canvas = document.createElement('canvas')
    canvas.width = video!.videoWidth
    canvas.height = video!.videoHeight
    canvas.getContext('2d')!.drawImage(video!, 0, 0)
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/jpeg', 0.9))
    if (blob) onphoto(await shrunk(new File([blob], 'photo.jpg')))
    stream = null
  }
</script>

<div class="relative overflow-hidden rounded-xl border border-line bg-surface">
  {#if stream}
    <video bind:this={video} autoplay playsinline muted class="block w-full"></video>
    <img
      src={before}
      alt="The last photo from {name}, faint"
      class="absolute inset-0 size-full object-cover"
      style:opacity={faint}
    />
  {:else}
    <img src={before} alt="The last photo from {name}" class="block max-h-64 w-full object-contain" />
  {/if}
</div>
{#if problem}<p class="mt-1 text-sm font-semibold text-stop" role="alert">{problem}</p>{/if}
{#if stream}
  <label class="mt-2 flex items-center gap-3 text-sm"
    >The last one over it<input
      type="range"
      class="h-12 flex-1 accent-tarn"
      min="0"
      max="0.8"
      step="0.05"
      bind:value={faint}
    /></label
  >
  <div class="flex flex-wrap gap-3">
    <Button kind="main" onclick={() => void take()}>Take it so</Button>
    <Button onclick={() => (stream = null)}>Close the camera</Button>
  </div>
{:else}
  <div class="mt-2"><Button onclick={() => void start()}>Take it with this one over the camera</Button></div>
{/if}
