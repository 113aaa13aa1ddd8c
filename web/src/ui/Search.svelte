<script lang="ts">
  // A list that is too long to look through has a search.
  interface Props {
    words: string
    label?: string
    /** what came of it, in words */
    said?: string
  }
  let { words = $bindable(), label = 'Find a paddock', said = '' }: Props = $props()
</script>

<label class="flex min-w-0 items-center gap-2">
  <span class="sr-only">{label}</span>
  <input
    type="search"
    class="w-full min-w-0 rounded-lg border border-soft bg-surface px-3 py-2 text-base text-ink"
    placeholder={label}
    bind:value={words}
  />
</label>
<span class="sr-only" role="status">{words ? said : ''}</span>
