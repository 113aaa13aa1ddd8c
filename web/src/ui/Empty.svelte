<script lang="ts">
  import type { Snippet } from 'svelte'

  let { title, children, action }: { title: string; children: Snippet; action?: Snippet } = $props()
</script>

<div class="mx-auto flex max-w-md flex-col items-center gap-3 p-10 text-center">
  <svg width="120" height="60" viewBox="0 0 120 60" aria-hidden="true">
    <path d="M2 58 34 18l18 24 14-16 50 32z" fill="none" stroke="var(--soft)" stroke-width="2" stroke-dasharray="5 5" />
    <path d="M2 58h116" stroke="var(--line)" stroke-width="2" />
  </svg>
  <h2>{title}</h2>
  <p class="text-soft">{@render children()}</p>
  {@render action?.()}
</div>
