<script lang="ts">
  import { outbox, type Item } from '../api/outbox.svelte'
  import { signal } from '../api/signal.svelte'
  import { ago, clock, isHeld, sayDay } from './time.svelte'

  // One line under the ridge of every place while something is held here, or what is shown was kept here.
  const atGate = (t: Item) => ['move', 'call', 'record', 'unrecord'].includes(t.kind)
  const things = (n: number) => `${n} ${n === 1 ? 'thing is' : 'things are'}`
  const where = $derived(
    [outbox.troubled.some(atGate) && 'Today', outbox.troubled.some((t) => !atGate(t)) && 'Walk'].filter(Boolean).join(' and '),
  )
  const old = $derived(signal.keptSince)
  const oldest = $derived(outbox.own.find((t) => !t.problem && t.held_at)?.held_at)
</script>

{#if old || outbox.waiting || outbox.troubled.length}
  <p class="no-print flex flex-wrap gap-x-4 border-b border-now bg-now-wash px-5 py-1 text-[15px] text-now-ink" role="status">
    {#if old}
      <span
        ><strong>No signal.</strong>
        {Number.isNaN(old.getTime())
          ? 'What you see was kept here earlier.'
          : isHeld()
            ? `What you see was kept here ${ago(old)}.`
            : `What you see is of ${sayDay(old)} ${clock(old)}.`}</span
      >
    {/if}
    {#if outbox.waiting}
      <span
        >{things(outbox.waiting)} held here, safe, and will go
        {outbox.signedOut ? 'once you sign in' : outbox.waiting === 1 ? 'by itself' : 'by themselves'}.{oldest
          ? ` The oldest since ${sayDay(new Date(oldest))} ${clock(new Date(oldest))}.`
          : ''}</span
      >
    {/if}
    {#if outbox.troubled.length}
      <span><strong>{things(outbox.troubled.length)} held that the farm asks about</strong>: see {where}.</span>
    {/if}
  </p>
{/if}
