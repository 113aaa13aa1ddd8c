<script lang="ts">
  // Rows of a file that cannot be taken, each with its reason.
  let { rows }: { rows: { row: number; why: string }[] } = $props()
  const shown = 12
</script>

{#if rows.length}
  <div class="rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink" role="alert">
    <p class="font-semibold">
      {rows.length} row{rows.length > 1 ? 's' : ''} cannot be taken and {rows.length > 1 ? 'are' : 'is'} left out:
    </p>
    <ul class="mt-1 text-[15px]">
      {#each rows.slice(0, shown) as r (r.row + r.why)}<li>Row {r.row}: {r.why}</li>{/each}
    </ul>
    {#if rows.length > shown}<p class="text-sm">and {rows.length - shown} more.</p>{/if}
  </div>
{/if}
