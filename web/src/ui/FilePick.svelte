<script lang="ts">
  // A file from the person's own machine, read as text.
  interface Props {
    label: string
    accept: string
    onread: (text: string, name: string) => void
  }
  let { label, accept, onread }: Props = $props()

  async function opened(e: Event) {
    const f = (e.currentTarget as HTMLInputElement).files?.[0]
    if (f) onread(await f.text(), f.name)
  }
</script>

<input
  type="file"
  {accept}
  aria-label={label}
  class="block min-h-12 w-full text-base text-soft file:mr-4 file:min-h-12 file:cursor-pointer file:rounded-xl file:border-2 file:border-solid file:border-tarn file:bg-surface file:px-4 file:font-semibold file:text-tarn"
  onchange={opened}
/>
