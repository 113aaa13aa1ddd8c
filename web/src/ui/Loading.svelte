<script lang="ts">
  let { error, what = 'this place' }: { error?: Error | null; what?: string } = $props()
</script>

{#if error}
  <div class="m-6 rounded-xl border-2 border-stop bg-stop-wash p-4 text-stop" role="alert">
    <strong>{what} cannot be shown.</strong>
    {error.message}
  </div>
{:else}
  <div class="p-10 text-soft" role="status">Fetching {what}…</div>
{/if}
