<script lang="ts">
  import { refresh } from '../api/queries.svelte'
  import { house } from './house.svelte'

  let timer: ReturnType<typeof setTimeout> | undefined
  $effect(() => {
    if (!house.notice) return
    clearTimeout(timer)
    timer = setTimeout(() => (house.notice = null), 8000)
  })

  async function undo() {
    await house.takeBack()
    await refresh()
  }
</script>

<div
  class="no-print pointer-events-none fixed inset-x-0 bottom-4 z-50 flex justify-center max-md:bottom-20"
  role="status"
  aria-live="polite"
>
  {#if house.notice && !house.measuring}
    <div class="pointer-events-auto flex items-center gap-4 rounded-xl bg-ink px-4 py-3 text-page shadow-lg">
      <span>{house.notice.text}</span>
      {#if house.notice.undo}
        <button type="button" class="min-h-9 rounded px-2 font-semibold underline underline-offset-4" onclick={undo}>Undo</button>
      {/if}
    </div>
  {/if}
</div>
