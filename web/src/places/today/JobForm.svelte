<script lang="ts">
  import { newId, type Schemas } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { useJobs } from '../../api/queries.svelte'
  import { keepRecord } from '../../api/record'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import PhotoPick from '../../ui/PhotoPick.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import Toggle from '../../ui/Toggle.svelte'
  import { addDays, isoDay, now } from '../../ui/time.svelte'

  // Something to be done: what, where, by when, by whom. With a photo and the spot, where one stands beside it.
  interface Props {
    farm: string
    paddocks: Schemas['PaddockView'][]
    kind?: Schemas['NewJob']['kind']
    paddock?: string
    onclose: () => void
  }
  let { farm, paddocks, kind: first = 'other', paddock = '', onclose }: Props = $props()

  const kinds: { value: Schemas['NewJob']['kind']; label: string; usual: string[] }[] = [
    {
      value: 'fence',
      label: 'Fence',
      usual: ['Broken strand', 'Post leans', 'Weeds on the wire', 'Sagging', 'Deer went through'],
    },
    { value: 'water', label: 'Water', usual: ['Fill the tank', 'Leak', 'Brush the trough', 'Look whether it runs'] },
    { value: 'power', label: 'Power', usual: ['Swap the battery', 'Low volts: find where', 'Walk the corner posts'] },
    { value: 'stock', label: 'Stock', usual: ['Look at the lame one', 'Count again'] },
    { value: 'other', label: 'Other', usual: [] },
  ]
  const jobs = useJobs(() => farm)
  // svelte-ignore state_referenced_locally
  let kind = $state(first)
  let what = $state('')
  // svelte-ignore state_referenced_locally
  let where = $state(paddock)
  let due = $state('0')
  let every = $state('0')
  let who = $state('')
  let spot = $state<{ longitude: number; latitude: number } | null>(null)
  let spotSays = $state('')
  let photos = $state.raw<Blob[]>([])
  let open = $state(true)
  const write = new Write()
  const usual = $derived(kinds.find((k) => k.value === kind)?.usual ?? [])
  $effect(() => {
    if (!open) onclose()
  })

  function mark() {
    spotSays = 'Looking where you stand…'
    navigator.geolocation.getCurrentPosition(
      (p) => {
        spot = { longitude: p.coords.longitude, latitude: p.coords.latitude }
        spotSays = `The spot is marked, to within ${Math.round(p.coords.accuracy)} m.`
      },
      () => (spotSays = 'This phone does not say where it is: name the place instead.'),
      { enableHighAccuracy: true, timeout: 15_000 },
    )
  }

  function keep() {
    const id = write.id()
    const body: Schemas['NewJob'] = {
      id,
      kind,
      what,
      paddock_id: where || undefined,
      due_on: due === '' ? undefined : isoDay(addDays(now(), Number(due))),
      every_days: Number(every) || undefined,
      for_id: who || undefined,
      ...(spot ?? {}),
    }
    return keepRecord(write, farm, { route: 'jobs', body }, `To do: ${what}`, () => {
      for (const blob of where ? photos : [])
        void outbox.hold({
          farm,
          id: newId(),
          kind: 'photo',
          body: { stop: id, paddock: where, taken_at: now().toISOString(), blob },
        })
      open = false
    })
  }
</script>

<Dialog bind:open title="Something to be done">
  <form class="flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <div class="flex flex-wrap gap-2" role="group" aria-label="What it is about">
      {#each kinds as k (k.value)}
        <Toggle on={kind === k.value} onclick={() => (kind = k.value)}>{k.label}</Toggle>
      {/each}
    </div>
    {#if kind === 'fence' || kind === 'power'}
      <p class="text-sm text-soft">Shut the power off before you touch the wire; work on the energiser is an electrician’s.</p>
    {/if}
    <TextField label="What" bind:value={what} error={write.at('what')} />
    {#if usual.length}
      <div class="flex flex-wrap gap-2">
        {#each usual as u (u)}<Button kind="quiet" onclick={() => (what = u)}>{u}</Button>{/each}
      </div>
    {/if}
    <div class="grid grid-cols-2 gap-3">
      <Choice
        label="Where"
        bind:value={where}
        options={[{ value: '', label: 'no paddock' }, ...paddocks.map((p) => ({ value: p.id, label: p.name }))]}
        error={write.at('paddock_id')}
      />
      <Choice
        label="Who"
        bind:value={who}
        options={[
          { value: '', label: 'whoever is there' },
          ...(jobs.data?.people ?? []).map((p) => ({ value: p.id, label: p.name })),
        ]}
        error={write.at('for_id')}
      />
      <Choice
        label="By"
        bind:value={due}
        options={[
          { value: '0', label: 'today' },
          { value: '1', label: 'tomorrow' },
          { value: '3', label: 'in three days' },
          { value: '7', label: 'in a week' },
          { value: '', label: 'no day' },
        ]}
        error={write.at('due_on')}
      />
      <Choice
        label="Again"
        bind:value={every}
        options={[
          { value: '0', label: 'once' },
          { value: '1', label: 'every day' },
          { value: '3', label: 'every three days' },
          { value: '7', label: 'every week' },
          { value: '30', label: 'every month' },
        ]}
        error={write.at('every_days')}
      />
    </div>
    {#if where}
      <PhotoPick count={photos.length} onphoto={(b) => (photos = [...photos, b])} />
    {:else}
      <p class="text-sm text-soft">Say where it is, and a photo can go with it.</p>
    {/if}
    <Button kind="quiet" onclick={mark}>Mark the spot where I stand</Button>
    {#if spotSays}<p class="text-sm" role="status">{spotSays}</p>{/if}
    <Refused refusal={write.refusal} shown={['what', 'paddock_id', 'for_id', 'due_on', 'every_days']} />
    <div class="flex flex-wrap gap-3">
      <Button kind="main" type="submit" disabled={write.busy}>Keep it</Button>
      <Button onclick={() => (open = false)}>Cancel</Button>
    </div>
  </form>
</Dialog>
