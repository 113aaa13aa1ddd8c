<script lang="ts">
  import type { Snippet } from 'svelte'

  // One of several answers, pressed or not.
  interface Props {
    on: boolean
    onclick: () => void
    children: Snippet
  }
  let { on, onclick, children }: Props = $props()
</script>

<button
  type="button"
  aria-pressed={on}
  class="flex min-h-12 items-center gap-2 rounded-xl border-2 px-3 {on
    ? 'border-tarn bg-tarn font-semibold text-on-tarn'
    : 'border-line bg-surface hover:border-tarn'}"
  {onclick}>{@render children()}</button
>
