<script lang="ts">
  import { shrunk } from './photo'

  // Takes a photo, or picks one, and gives it as it is kept.
  interface Props {
    count: number
    onphoto: (blob: Blob) => void
  }
  let { count, onphoto }: Props = $props()
  let problem = $state('')

  async function take(e: Event) {
    const field = e.currentTarget as HTMLInputElement
    const file = field.files?.[0]
    if (!file) return
    try {
      onphoto(await shrunk(file))
      problem = ''
    } catch {
      problem = 'This picture cannot be read: take it again, as a JPEG or PNG.'
    }
    field.value = ''
  }
</script>

<label
  class="flex min-h-14 items-center justify-center rounded-xl border-2 border-tarn bg-surface px-4 text-lg font-semibold text-tarn focus-within:outline-3 focus-within:outline-tarn"
  >Take a photo{count ? ` (${count})` : ''}
  <input class="sr-only" type="file" accept="image/*" capture="environment" onchange={take} />
</label>
{#if problem}<p class="mt-1 text-sm font-semibold text-stop" role="alert">{problem}</p>{/if}
<p class="mt-1 text-sm text-soft">Photos wait their turn when there is no signal.</p>
