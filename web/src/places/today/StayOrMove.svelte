<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { Write } from '../../api/write.svelte'
  import { core, loadCore } from '../../core/core'
  import Button from '../../ui/Button.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { now, sayMoment } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'

  interface Props {
    farm: string
    mob: Schemas['TodayMob']
    onmove: (to: string) => void
    onclose: () => void
  }
  let { farm, mob, onmove, onclose }: Props = $props()

  type By = 'height' | 'fists' | 'mass'
  interface Option {
    do: string
    until: string | null
    to_paddock_id: string
    to: string
    intake_share: number
    left_kg_dm_ha: number
    regrow_days: number | null
    later_days: number | null
    next_turn_kg_dm_ha: number
    short_kg_dm: number
    within_rules: boolean
  }
  interface Answer {
    forage_mass_kg_dm_ha: number
    do: string
    until: string | null
    to_paddock_id: string
    to: string
    reason: Schemas['Reason']
    richer?: Schemas['Reason']
    options: Option[]
  }

  let open = $state(true)
  const heights = $derived(mob.gate!.seen.stop_height_cm > 0)
  // svelte-ignore state_referenced_locally
  let by = $state<By>(heights ? 'height' : 'mass')
  let value = $state<number | null>(null)
  let answer = $state.raw<Answer | null>(null)
  let wrong = $state('')
  let otherwise = $state.raw<Option | null>(null)
  let unsaid = $state('')
  let reason = $state('')
  const write = new Write()
  const ways = $derived<{ key: By; word: string; label: string; unit: string; hint: string }[]>([
    ...(heights
      ? [
          {
            key: 'height' as By,
            word: 'Height',
            label: 'Height of leaf',
            unit: 'cm',
            hint: 'where the leaves push back, not the tallest',
          },
          {
            key: 'fists' as By,
            word: 'Fists',
            label: 'Fists, stacked',
            unit: 'count',
            hint: 'from the ground to where the leaves push back',
          },
        ]
      : []),
    { key: 'mass', word: 'Mass', label: 'What stands', unit: 'kg_ha', hint: 'by eye or from a meter' },
  ])
  const way = $derived(ways.find((w) => w.key === by)!)
  const same = (o: Option) => o.do === answer?.do && o.until === answer.until && o.to_paddock_id === answer.to_paddock_id

  void loadCore().catch(() => {})
  $effect(() => {
    if (!open) onclose()
  })
  // Answered anew with every figure.
  $effect(() => {
    const gate = mob.gate!
    const body = {
      now: now().toISOString(),
      slots: gate.slots,
      here: gate.here,
      next: gate.next,
      seen: { ...gate.seen, by, value },
    }
    answer = null
    wrong = ''
    otherwise = null
    if (value === null) return
    let late = false
    core<Answer>('stay-or-move', body)
      .then((a) => {
        if (!late) answer = a
      })
      .catch((error: unknown) => {
        if (!late)
          wrong = error instanceof Refusal ? error.message : 'This cannot be worked out here yet: open it once with a signal.'
      })
    return () => (late = true)
  })

  const verb = (o: { do: string; until: string | null; to: string }) =>
    o.do === 'move'
      ? `Move to ${o.to}`
      : o.do === 'skip'
        ? `Go past it, to ${o.to}`
        : o.do === 'hold'
          ? 'Hold them and feed'
          : `Stay until ${sayMoment(new Date(o.until!))}`
  const days = (d: number | null) => (d === null ? 'not this year' : withUnit(d, 'day', house.system, 0))

  async function done(o: Option) {
    if (!answer) return
    unsaid = !same(o) && !reason.trim() ? 'Say why you do other than was said: it is kept.' : ''
    if (unsaid) return // known here too: without a signal nobody else would say so
    const id = write.id()
    const body: Schemas['NewGateCall'] = {
      id,
      mob_id: mob.mob_id,
      paddock_id: mob.paddock_id,
      seen_at: now().toISOString(),
      seen_height_cm: by === 'height' ? value! : undefined,
      seen_fists: by === 'fists' ? value! : undefined,
      seen_kg_dm_ha: by === 'mass' ? value! : undefined,
      said: answer.do as Schemas['NewGateCall']['said'],
      did: o.do as Schemas['NewGateCall']['did'],
      otherwise: !same(o),
      reason: reason || undefined,
      confirmed: write.confirmed,
    }
    const says = `${mob.name}, at the gate: ${verb(o)}`
    const takeBack = () => outbox.takeBack(farm, 'measurement', id)
    const after = () => {
      open = false
      if (o.do === 'move' || o.do === 'skip') onmove(o.to_paddock_id)
    }
    const went = await write.send(() => ask(api.POST('/api/farms/{farm}/gate-calls', { params: { path: { farm } }, body })), {
      say: `${verb(o)}. What you saw counts as a measurement.`,
      undo: takeBack,
      then: after,
    })
    if (went || write.refusal?.status !== 0) return
    await outbox.hold({ farm, id, kind: 'call', body, says, tried: true })
    house.say(`${says}: held here, safe.`, takeBack)
    after()
  }
</script>

<Dialog bind:open title="{mob.name} in {mob.paddock_name}: stay or move?" size="md">
  <div class="flex flex-col gap-4">
    <div class="flex flex-wrap gap-2" role="radiogroup" aria-label="How you say it">
      {#each ways as w (w.key)}
        <label
          class="flex min-h-12 items-center gap-2 rounded-xl border-2 px-3 font-semibold {by === w.key
            ? 'border-tarn bg-tarn-wash'
            : 'border-line'}"
          ><input
            type="radio"
            class="size-5"
            name="by"
            value={w.key}
            bind:group={by}
            onchange={() => (value = null)}
          />{w.word}</label
        >
      {/each}
    </div>
    <NumberField label={way.label} unit={way.unit} bind:value error={wrong || undefined} hint={way.hint} />
    {#if answer}
      <div class="rounded-2xl bg-tarn-wash p-4" role="status">
        <p class="text-[30px] leading-tight font-bold tracking-tight">{verb(answer)}</p>
        <p class="mt-1"><Reason reason={answer.reason} />.</p>
        {#if by !== 'mass'}<p class="mt-1 text-sm text-soft">
            That is about {withUnit(answer.forage_mass_kg_dm_ha, 'kg_ha', house.system)}.
          </p>{/if}
      </div>
      {#if answer.richer}<p><Reason reason={answer.richer} /></p>{/if}
      <ul class="flex flex-col gap-2" aria-label="What comes of each">
        {#each answer.options as o, i (i)}
          <li class="rounded-xl border {same(o) ? 'border-2 border-tarn' : 'border-line'} p-3">
            <p class="font-bold">{verb(o)}{o.within_rules ? '' : ': past the rules'}</p>
            <dl class="mt-1 grid grid-cols-[1fr_auto] gap-x-3 gap-y-0.5 text-[15px]">
              <dt class="text-soft">They eat, of what they need</dt>
              <dd class="figure">{withUnit(o.intake_share, 'share', house.system, 0)}</dd>
              <dt class="text-soft">Left here</dt>
              <dd class="figure">{withUnit(o.left_kg_dm_ha, 'kg_ha', house.system)}</dd>
              <dt class="text-soft">Back at the entry in</dt>
              <dd class="figure">
                {days(o.regrow_days)}{#if o.later_days && o.later_days >= 0.5}<span class="text-stop"
                    >&nbsp;{withUnit(o.later_days, 'day', house.system, 0)} later</span
                  >{/if}
              </dd>
              <dt class="text-soft">
                Stands, when its turn comes again{mob.gate!.here.rest_days
                  ? ` after ${withUnit(mob.gate!.here.rest_days, 'day', house.system, 0)}`
                  : ''}
              </dt>
              <dd class="figure">{withUnit(o.next_turn_kg_dm_ha, 'kg_ha', house.system)}</dd>
            </dl>
            {#if house.may('hand')}
              <div class="mt-2">
                {#if same(o)}
                  <Button kind="main" disabled={write.busy} onclick={() => void done(o)}>Do it</Button>
                {:else}
                  <Button kind="quiet" onclick={() => (otherwise = otherwise === o ? null : o)}>Do this instead</Button>
                {/if}
              </div>
              {#if otherwise === o}
                <form class="mt-2 flex flex-col gap-2" onsubmit={(e) => (e.preventDefault(), void done(o))}>
                  <TextField label="Why" bind:value={reason} error={unsaid || write.refusal?.at('reason')} />
                  <div><Button kind="main" type="submit" disabled={write.busy}>Keep it with the reason</Button></div>
                </form>
              {/if}
            {/if}
          </li>
        {/each}
      </ul>
      <Refused refusal={write.refusal} bind:confirmed={write.confirmed} shown={['reason']} />
    {:else if !wrong}
      <p class="text-soft">One figure, read where they have grazed an average bit of it.</p>
    {/if}
  </div>
</Dialog>
