<script lang="ts">
  // A verdict is a word, a shape and a tone together.
  interface Props {
    state: string
    word?: boolean
    size?: number
    /** what it is called here, where that says more: “being grazed” */
    said?: string
  }
  let { state, word = true, size = 22, said }: Props = $props()

  const words: Record<string, string> = {
    ready: 'ready',
    soon: 'soon',
    resting: 'resting',
    mind: 'look at this',
    stop: 'not now',
  }
  const spoken = $derived(said ?? words[state] ?? state)
  const tones: Record<string, string> = {
    ready: 'var(--tarn)',
    soon: 'var(--tarn)',
    resting: 'var(--soft)',
    mind: 'var(--now-ink)',
    stop: 'var(--stop)',
  }
</script>

<span class="inline-flex items-center gap-1.5 font-semibold" style:color={tones[state]}>
  <svg width={size} height={size * 0.8} viewBox="0 0 24 19" aria-hidden="true" class="shrink-0">
    {#if state === 'ready'}
      <path d="M1 18 12 2l11 16z" fill="currentColor" />
    {:else if state === 'soon'}
      <path d="M1.5 17.5 12 2.5l10.5 15z" fill="none" stroke="currentColor" stroke-width="1.8" />
      <path d="M1 18 12 2v16z" fill="currentColor" />
    {:else if state === 'resting'}
      <path d="M2 17 12 3l10 14z" fill="none" stroke="currentColor" stroke-width="2" />
    {:else if state === 'mind'}
      <path d="M1 18 9.5 5.6l2.5 4 2.5-4L23 18z" fill="currentColor" />
    {:else}
      <path d="M2 17 12 3l10 14z" fill="none" stroke="currentColor" stroke-width="2" />
      <path d="M2 11.5h20" stroke="currentColor" stroke-width="2.6" />
    {/if}
  </svg>
  {#if word}{spoken}{:else}<span class="sr-only">{spoken}</span>{/if}
</span>
