<script lang="ts">
  import { newId, type Schemas } from '../../api/client'
  import { outbox, type Item } from '../../api/outbox.svelte'
  import { useJobs } from '../../api/queries.svelte'
  import { keepRecord } from '../../api/record'
  import { Write } from '../../api/write.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import { now, sayDay } from '../../ui/time.svelte'

  // What is to be done, the most urgent first, with a press to say that it is.
  let { farm }: { farm: string } = $props()

  type Held = Extract<Item, { kind: 'record' }>
  const jobs = useJobs(() => farm)
  const held = $derived(outbox.own.filter((i): i is Held => i.kind === 'record' && i.farm === farm))
  const gone = $derived(held.flatMap((i) => (i.body.route === 'jobs/done' ? [i.body.body.job_id] : [])))
  const open = $derived((jobs.data?.open ?? []).filter((j) => !gone.includes(j.id)))
  let all = $state(false)
  const write = new Write()

  const done = (j: Schemas['JobView']) =>
    keepRecord(
      write,
      farm,
      { route: 'jobs/done', body: { id: newId(), job_id: j.id, done_at: now().toISOString() } },
      `Done: ${j.what}`,
      () => {},
    )
  const day = (d: string) => sayDay(new Date(d + 'T12:00'))
</script>

<section id="jobs" aria-label="Jobs" class="shrink-0">
  <h2 class="mb-1">To do</h2>
  {#each held as h (h.id)}
    <p class="flex flex-wrap items-center gap-2 border-b border-line py-2 text-now-ink">
      <span class="flex-1"><strong>{h.says}</strong>: {h.problem ?? 'held here, safe'}</span>
      {#if h.unusual}<Button onclick={() => outbox.settle(h, true)}>Yes, it is so</Button>{/if}
      {#if h.problem}<Button kind="quiet" onclick={() => outbox.settle(h, false)}>Delete it</Button>{/if}
    </p>
  {/each}
  <ul>
    {#each open.slice(0, all ? undefined : 5) as j (j.id)}
      <li class="flex items-center gap-2 border-b border-line py-1.5">
        <span class="flex-1"
          ><strong>{j.what}</strong>{j.paddock_name ? `, ${j.paddock_name}` : ''}
          <span class="block text-sm {j.overdue ? 'font-semibold text-stop' : 'text-soft'}"
            >{[
              j.due_on && (j.overdue ? `was for ${day(j.due_on)}` : `by ${day(j.due_on)}`),
              j.for && `for ${j.for}`,
              j.every_days && `every ${j.every_days === 1 ? 'day' : `${j.every_days} days`}`,
            ]
              .filter(Boolean)
              .join(' · ')}</span
          ></span
        >
        {#if j.latitude !== null}<a
            class="grid min-h-12 place-items-center px-2 font-semibold text-tarn"
            href="geo:{j.latitude},{j.longitude}">The spot</a
          >{/if}
        {#each j.photos.slice(0, 1) as p (p)}<a href="/api/farms/{farm}/photos/{p}" target="_blank" rel="noopener"
            ><img
              src="/api/farms/{farm}/photos/{p}"
              alt="Photo: {j.what}"
              loading="lazy"
              class="h-12 w-12 rounded-lg object-cover"
            /></a
          >{/each}
        {#if house.may('hand')}<Button label="Done: {j.what}" disabled={write.busy} onclick={() => void done(j)}>Done</Button
          >{/if}
      </li>
    {/each}
  </ul>
  {#if !open.length && !held.length}<p class="text-soft">Nothing is written down to be done.</p>{/if}
  <div class="no-print flex flex-wrap gap-x-4">
    {#if house.may('hand')}<button
        type="button"
        class="min-h-12 font-semibold text-tarn"
        onclick={() => address.show({ jobs: 'new' })}>Add a job</button
      >{/if}
    {#if open.length > 5 || jobs.data?.done.length}<button
        type="button"
        class="min-h-12 font-semibold text-tarn"
        aria-expanded={all}
        onclick={() => (all = !all)}>{all ? 'Fewer' : 'All, and what was done'}</button
      >{/if}
  </div>
  {#if all}
    <ul class="text-soft">
      {#each jobs.data?.done ?? [] as j (j.id)}
        <li class="border-b border-line py-1.5">
          {j.what}{j.paddock_name ? `, ${j.paddock_name}` : ''}: {j.done_by}, {sayDay(new Date(j.done_at!))}{j.minutes
            ? `, ${j.minutes} minutes`
            : ''}
        </li>
      {/each}
    </ul>
  {/if}
</section>
