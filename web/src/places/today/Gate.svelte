<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { clock, isoDay, moment, now, sayDay } from '../../ui/time.svelte'

  interface Props {
    farm: string
    mob: Schemas['TodayMob']
    paddocks: Schemas['PaddockView'][]
    /** the paddock they go to, where that is decided */
    first?: string
    onclose: () => void
  }
  let { farm, mob, paddocks, first = '', onclose }: Props = $props()

  let open = $state(true)
  // svelte-ignore state_referenced_locally
  let to = $state(first || (mob.next?.paddock_id ?? paddocks[0]?.id ?? ''))
  let day = $state(isoDay(now()))
  let time = $state(clock(now()))
  let height = $state<number | null>(null)
  let mass = $state<number | null>(null)
  let by = $state<'height' | 'mass'>('height')
  let note = $state('')
  const write = new Write()
  const refusal = $derived(write.refusal)

  const routine = $derived([
    `Tell somebody where you are; phone on you.`,
    `Walk the next fence; read the volts at the far end before stock go in${mob.fence_kv ? `: ${mob.fence_kv} kV or more` : ''}.`,
    'Water flowing, trough full, float clear of any wire; mineral across.',
    'Open, let them through in their own time, count, close, power on.',
    'Look back at what they left and write it below.',
  ])
  let ticked = $state<boolean[]>([])
  // svelte-ignore state_referenced_locally
  const draft = new Draft(
    `gate.${mob.mob_id}`,
    0,
    () => ({ height, mass, by, note, ticked }),
    (d) => ({ height, mass, by, note, ticked } = d),
  )

  $effect(() => {
    if (!open) onclose()
  })

  const options = $derived([
    ...paddocks
      .filter((p) => p.id !== mob.paddock_id)
      .map((p) => ({
        value: p.id,
        label: `${p.name} · ${p.mob_ids.length ? 'being grazed' : p.state === 'mind' ? 'past its best' : p.state === 'stop' ? 'closed' : p.state}`,
      })),
    ...(mob.paddock_id ? [{ value: 'off', label: 'off the pasture' }] : []),
  ])

  async function moved() {
    const id = write.id()
    const body: Schemas['NewMove'] = {
      id,
      mob_id: mob.mob_id,
      to_paddock_id: to === 'off' ? undefined : to,
      moved_at: moment(day, time).toISOString(),
      height_left_cm: by === 'height' && height !== null ? height : undefined,
      mass_left_kg_dm_ha: by === 'mass' && mass !== null ? mass : undefined,
      note: note || undefined,
      confirmed: write.confirmed,
    }
    const went = await write.send(() => ask(api.POST('/api/farms/{farm}/moves', { params: { path: { farm } }, body })), {
      say: (list) => {
        const made = list.find((m) => m.id === id)
        return made?.shared_with
          ? `Moved. ${made.shared_with} are in there too: two mobs in one paddock.`
          : `${mob.name} moved${made?.to_name ? ` to ${made.to_name}` : ' off the pasture'}.`
      },
      undo: () => outbox.takeBack(farm, 'move', id),
      then: done,
    })
    if (went || write.refusal?.status !== 0) return
    // No answer: it waits here under the same id, and goes by itself. If it did arrive, it will not count twice.
    const says = `${mob.name} to ${options.find((o) => o.value === to)?.label.split(' · ')[0]}, ${sayDay(moment(day, time))} ${time}`
    await outbox.hold({ farm, id, kind: 'move', body, says, tried: true })
    house.say(`${says}: held here, safe. It goes to the farm by itself.`, () => outbox.takeBack(farm, 'move', id))
    done()
  }

  function done() {
    draft.done()
    open = false
  }
</script>

<Dialog bind:open title={mob.paddock_id ? `${mob.name}: through the gate` : `${mob.name}: put them out`} size="lg">
  <div class="grid grid-cols-2 gap-6 max-md:grid-cols-1">
    <div>
      <h3 class="mb-2">In this order</h3>
      <ul>
        {#each routine as step, i (i)}
          <li>
            <label class="flex min-h-12 items-center gap-3 border-b border-line py-1.5"
              ><input
                type="checkbox"
                class="size-6 shrink-0 rounded border-soft text-tarn"
                bind:checked={ticked[i]}
              />{step}</label
            >
          </li>
        {/each}
      </ul>
      {#each mob.cautions as c (c.id)}
        <details class="mt-2 rounded-xl border border-now bg-now-wash px-3 py-2 text-sm text-now-ink">
          <summary class="min-h-12 py-3 font-semibold">{c.title}</summary>
          <p class="mt-1">{c.what_to_watch}</p>
          <ul class="mt-1 list-disc pl-5">
            {#each c.usual_precautions as p, i (i)}<li>{p}</li>{/each}
          </ul>
          <p class="mt-1 font-semibold">{c.who_to_ask}</p>
        </details>
      {/each}
    </div>
    <form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void moved())}>
      <Choice label="They went to" bind:value={to} {options} error={refusal?.at('to_paddock_id')} />
      <div class="grid grid-cols-2 gap-3">
        <TextField label="Day" type="date" bind:value={day} max={isoDay(now())} />
        <TextField label="Time" type="time" bind:value={time} />
      </div>
      {#if refusal?.at('moved_at')}<p class="text-sm font-semibold text-stop" role="alert">{refusal.at('moved_at')}</p>{/if}
      {#if mob.paddock_id}
        <fieldset class="rounded-xl border border-line p-3">
          <legend class="px-1 text-sm font-semibold">Left behind in {mob.paddock_name}</legend>
          <div class="mb-2 flex gap-4">
            <label class="flex min-h-12 items-center gap-2"
              ><input type="radio" class="size-5" bind:group={by} value="height" /> height</label
            >
            <label class="flex min-h-12 items-center gap-2"
              ><input type="radio" class="size-5" bind:group={by} value="mass" /> mass</label
            >
          </div>
          {#if by === 'height'}
            <NumberField
              label="Height left, leaf"
              unit="cm"
              bind:value={height}
              error={refusal?.at('height_left_cm')}
              hint="May be left out; it corrects the next estimate."
            />
          {:else}
            <NumberField
              label="Mass left"
              unit="kg_ha"
              bind:value={mass}
              error={refusal?.at('mass_left_kg_dm_ha')}
              hint="May be left out; it corrects the next estimate."
            />
          {/if}
        </fieldset>
      {/if}
      <TextField label="Note" bind:value={note} error={refusal?.at('note')} />
      <Drafted {draft} />
      <Refused
        {refusal}
        bind:confirmed={write.confirmed}
        shown={['to_paddock_id', 'moved_at', 'height_left_cm', 'mass_left_kg_dm_ha', 'note']}
      />
      <div class="flex flex-wrap gap-3">
        <Button kind="main" type="submit" disabled={write.busy}>Moved</Button>
        <Button onclick={() => (open = false)}>Cancel</Button>
      </div>
    </form>
  </div>
</Dialog>
