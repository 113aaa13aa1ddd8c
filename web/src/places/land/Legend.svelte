<script lang="ts">
  import type { ColourBy } from '../../map/styles'

  // What the map's colours mean, in words.
  let { by = $bindable() }: { by: ColourBy } = $props()

  const all: Record<ColourBy, { label: string; words: string[] }> = {
    feed: { label: 'Feed', words: ['less feed', 'more'] },
    rest: { label: 'Rest', words: ['just left', 'rested 35 days'] },
    readiness: { label: 'Readiness', words: ['stop', 'resting', 'soon', 'ready', 'past its best'] },
    productivity: { label: 'Grows as usual', words: ['poor ground', 'rich'] },
    grazed: { label: 'Last grazed', words: ['long ago', 'lately'] },
  }
  const words = $derived(all[by].words)
</script>

<div
  class="absolute bottom-3.5 left-4 flex items-center gap-3 rounded-xl bg-surface px-3 py-1.5 text-sm shadow-sm max-md:top-4 max-md:bottom-auto max-md:left-3 max-md:h-12 max-md:gap-2 max-md:px-1.5"
>
  <label class="flex items-center gap-2"
    ><span class="sr-only">Colour the map by</span>
    <select class="rounded-lg border border-line bg-surface py-1.5 pr-8 pl-2 text-sm font-semibold" bind:value={by}>
      {#each Object.entries(all) as [key, k] (key)}<option value={key}>{k.label}</option>{/each}
    </select></label
  >
  {#if words.length === 2}
    <span class="max-md:hidden">{words[0]}</span>
    <span class="flex overflow-hidden rounded"
      >{#each [0, 1, 2, 3, 4] as i (i)}<span class="h-3.5 w-6 max-md:w-4" style:background="var(--feed-{i})"></span>{/each}</span
    >
    <span class="max-md:hidden">{words[1]}</span>
  {:else}
    {#each words as w, i (w)}<span class="flex items-center gap-1.5 max-md:[&>span:last-child]:hidden"
        ><span class="h-3.5 w-4 rounded-sm" style:background="var(--feed-{i})"></span><span>{w}</span></span
      >{/each}
  {/if}
  <span class="flex items-center gap-1.5 text-soft max-md:hidden"
    ><span class="hatched h-3.5 w-5 rounded-sm border border-line"></span>closed</span
  >
</div>

<style>
  .hatched {
    background: repeating-linear-gradient(-45deg, transparent 0 3px, var(--soft) 3px 4px);
  }
</style>
