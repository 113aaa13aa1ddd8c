<script lang="ts">
  import { onMount, type Snippet } from 'svelte'
  import { closes } from './closers'

  interface Props {
    onclose: () => void
    /** the keyboard stays where it is, for something that is worked with while it is looked at */
    still?: boolean
    children: Snippet
  }
  let { onclose, still = false, children }: Props = $props()
  let box: HTMLDivElement

  // A panel that opens takes the keyboard, closes by Esc, and gives the keyboard back to what opened it.
  onMount(() => {
    const before = document.activeElement
    const heading = box.querySelector<HTMLElement>('h2')
    if (!still && heading && !box.contains(before)) {
      heading.tabIndex = -1
      heading.focus({ preventScroll: true })
    }
    const closed = closes(() => onclose())
    return () => {
      closed()
      const lost = document.activeElement === document.body || box.contains(document.activeElement)
      if (before instanceof HTMLElement && before.isConnected && lost) before.focus({ preventScroll: true })
    }
  })
</script>

<div class="flex flex-col gap-4" bind:this={box}>{@render children()}</div>
