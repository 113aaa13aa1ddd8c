<script lang="ts">
  import { onMount, type Snippet } from 'svelte'
  import { answered } from '../api/queries.svelte'
  import { closes } from './closers'
  import Loading from './Loading.svelte'

  interface Props {
    onclose: () => void
    /** the keyboard stays where it is, for something that is worked with while it is looked at */
    still?: boolean
    children: Snippet
  }
  let { onclose, still = false, children }: Props = $props()
  let box: HTMLDivElement
  const ready = answered()
  let before: Element | null = null

  // A panel that opens takes the keyboard, closes by Esc, and gives the keyboard back to what opened it.
  onMount(() => {
    before = document.activeElement
    const closed = closes(() => onclose())
    return () => {
      closed()
      const lost = document.activeElement === document.body || box.contains(document.activeElement)
      if (before instanceof HTMLElement && before.isConnected && lost) before.focus({ preventScroll: true })
    }
  })
  $effect(() => {
    const heading = ready.current && box.querySelector<HTMLElement>('h2')
    if (still || !heading || box.contains(document.activeElement)) return
    heading.tabIndex = -1
    heading.focus({ preventScroll: true })
  })
</script>

<div class="flex flex-col gap-4" bind:this={box}>
  {#if ready.current}{@render children()}{:else}<Loading what="what holds now" />{/if}
</div>
