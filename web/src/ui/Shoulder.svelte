<script lang="ts">
  import type { Snippet } from 'svelte'
  import { house } from './house.svelte'
  import Icon from './Icon.svelte'
  import Working from './Working.svelte'

  let { children, label = 'Details' }: { children?: Snippet; label?: string } = $props()
</script>

<aside
  class="plain-scroll flex w-[340px] shrink-0 flex-col gap-4 border-l border-line bg-surface p-5 max-md:w-full max-md:border-l-0 max-md:border-t"
  aria-label={label}
>
  {#if house.working}
    <div class="flex items-start justify-between gap-2">
      <h2>{house.working.title}</h2>
      <button
        type="button"
        class="rounded p-2 text-soft hover:text-ink"
        aria-label="Close the working"
        onclick={() => (house.working = null)}
      >
        <Icon name="close" size={20} />
      </button>
    </div>
    <Working figure={house.working.figure} />
  {/if}
  {@render children?.()}
</aside>
