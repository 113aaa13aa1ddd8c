<script lang="ts">
  import type { Refusal } from '../api/client'

  // What a form says when it was refused as a whole, or when strange figures are read back.
  interface Props {
    refusal: Refusal | null
    confirmed?: boolean
    /** fields that show their own sentence */
    shown?: string[]
  }
  let { refusal, confirmed = $bindable(false), shown = [] }: Props = $props()

  const rest = $derived(refusal?.fields.filter((f) => !shown.some((s) => f.field === s || f.field.endsWith('.' + s))) ?? [])
</script>

{#if refusal?.unusual}
  <div class="rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink" role="alert">
    {#each refusal.fields as f, i (i)}<p>{f.message}</p>{/each}
    <label class="mt-2 flex min-h-11 items-center gap-3 font-semibold">
      <input type="checkbox" class="size-6 rounded border-soft" bind:checked={confirmed} /> Yes, it is so
    </label>
  </div>
{:else if refusal && !refusal.stored && (rest.length || !refusal.fields.length)}
  <div class="rounded-xl border-2 border-stop bg-stop-wash p-3 text-stop" role="alert">
    {#if rest.length}{#each rest as f, i (i)}<p>{f.message}</p>{/each}{:else}<p>{refusal.message}</p>{/if}
  </div>
{/if}
