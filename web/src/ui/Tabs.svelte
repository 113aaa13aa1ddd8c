<script lang="ts" generics="T extends string">
  import type { Snippet } from 'svelte'

  interface Props {
    label: string
    tabs: readonly T[]
    current: T
    onchoose: (tab: T) => void
    /** what stands behind a tab's name */
    beside?: Snippet<[T]>
    /** id of what the tabs show */
    panel: string
  }
  let { label, tabs, current, onchoose, beside, panel }: Props = $props()
  let row: HTMLDivElement

  function key(e: KeyboardEvent) {
    const i = tabs.indexOf(current)
    const next = {
      ArrowRight: (i + 1) % tabs.length,
      ArrowLeft: (i + tabs.length - 1) % tabs.length,
      Home: 0,
      End: tabs.length - 1,
    }[e.key]
    if (next === undefined) return
    e.preventDefault()
    e.stopPropagation()
    onchoose(tabs[next]!)
    row.querySelectorAll<HTMLElement>('[role=tab]')[next]!.focus()
  }
</script>

<div class="no-print flex gap-1 overflow-x-auto" role="tablist" aria-label={label} bind:this={row}>
  {#each tabs as t (t)}
    <button
      type="button"
      role="tab"
      id="{panel}-{t}"
      aria-selected={current === t}
      aria-controls={panel}
      tabindex={current === t ? 0 : -1}
      class="min-h-12 rounded-lg px-3 font-semibold whitespace-nowrap {current === t
        ? 'bg-tarn text-on-tarn'
        : 'text-tarn hover:bg-tarn-wash'}"
      onkeydown={key}
      onclick={() => onchoose(t)}>{t}{@render beside?.(t)}</button
    >
  {/each}
</div>
