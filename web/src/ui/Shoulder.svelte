<script lang="ts">
  import type { Snippet } from 'svelte'
  import { house } from './house.svelte'
  import { phone } from './media.svelte'
  import WorkingPanel from './WorkingPanel.svelte'

  interface Props {
    children?: Snippet
    label?: string
    /**
     * on a phone it fills what the page leaves and scrolls by itself; or rises as a sheet, with what it speaks of in sight above
     * it; or follows below and scrolls with the page
     */
    narrow?: 'fill' | 'sheet' | 'below'
  }
  let { children, label = 'Details', narrow = 'fill' }: Props = $props()
  const shapes = {
    fill: 'max-md:min-h-0 max-md:flex-1',
    sheet: 'max-md:max-h-[55dvh] max-md:rounded-t-2xl max-md:shadow-[0_-6px_20px_rgb(0_0_0/0.12)]',
    below: 'max-md:overflow-visible',
  }
  // What is said at the foot of a phone lies over no button for good: the panel scrolls that much further meanwhile.
  // A phone shows the working at the foot of the page, wherever the figure was tapped.
  const working = $derived(house.working && !phone.current)
</script>

{#if children || working}
  <aside
    class="plain-scroll no-print flex w-[340px] shrink-0 flex-col gap-4 border-l border-line bg-surface p-5 max-md:w-full max-md:border-t max-md:border-l-0 {shapes[
      narrow
    ]} {house.notice ? 'max-md:pb-28' : ''}"
    aria-label={label}
  >
    {#if working}<WorkingPanel />{/if}
    {@render children?.()}
  </aside>
{/if}
