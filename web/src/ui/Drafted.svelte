<script lang="ts" generics="T">
  import type { Draft } from './draft.svelte'

  // Says that a form holds what was typed before, and lets it go.
  let { draft }: { draft: Draft<T> } = $props()
</script>

{#if draft.restored}
  <p class="flex flex-wrap items-center gap-x-3 rounded-xl bg-tarn-wash px-3 py-1 text-[15px]" role="status">
    <span class="flex-1">What you had typed is here again.</span>
    <button type="button" class="min-h-11 font-semibold text-tarn underline underline-offset-4" onclick={() => draft.anew()}
      >Begin anew</button
    >
  </p>
{/if}
