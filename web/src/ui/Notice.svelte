<script lang="ts">
  import { prefersReducedMotion } from 'svelte/motion'
  import { fly } from 'svelte/transition'
  import { house } from './house.svelte'

  let timer: ReturnType<typeof setTimeout> | undefined
  $effect(() => {
    if (!house.notice) return
    clearTimeout(timer)
    timer = setTimeout(() => (house.notice = null), 8000)
  })
</script>

<div
  class="no-print pointer-events-none fixed inset-x-0 bottom-4 z-50 flex justify-center max-md:bottom-20"
  role="status"
  aria-live="polite"
>
  {#if house.notice && !house.measuring}
    <!-- What is said again in the same words comes up again: a press in vain is not passed over. -->
    {#key house.notice}
      <div
        class="pointer-events-auto flex items-center gap-4 rounded-xl bg-ink px-4 py-3 text-page shadow-lg"
        in:fly={{ y: prefersReducedMotion.current ? 0 : 12, duration: prefersReducedMotion.current ? 0 : 150 }}
      >
        <span>{house.notice.text}</span>
        {#if house.notice.undo}
          <button
            type="button"
            class="min-h-9 rounded px-2 font-semibold underline underline-offset-4"
            onclick={() => void house.takeBack()}>Undo</button
          >
        {/if}
      </div>
    {/key}
  {/if}
</div>
