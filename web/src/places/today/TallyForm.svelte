<script lang="ts">
  import { tick } from 'svelte'
  import type { Schemas } from '../../api/client'
  import { useSwards, useTallies } from '../../api/queries.svelte'
  import { keepRecord, unpost } from '../../api/record'
  import { press, Write } from '../../api/write.svelte'
  import { core } from '../../core/core'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { now, sayDay, sayMoment } from '../../ui/time.svelte'
  import Toggle from '../../ui/Toggle.svelte'
  import { number } from '../../ui/units'

  // Thirty grazed and thirty ungrazed plants of one species, one after the other; use is judged by weight while they are typed.
  interface Props {
    farm: string
    mobs: Schemas['TodayMob'][]
    paddocks: Schemas['PaddockView'][]
    /** the paddock they stand in */
    chosen: string
    onclose: () => void
  }
  let { farm, mobs, paddocks, chosen, onclose }: Props = $props()

  type From = Schemas['NewTally']['ungrazed_from']
  const wanted = 30
  const tallies = useTallies(() => farm)
  const swards = useSwards(() => farm)
  // svelte-ignore state_referenced_locally
  let paddock = $state(paddocks.some((p) => p.id === chosen) ? chosen : (paddocks[0]?.id ?? ''))
  const mob = $derived(mobs.find((m) => m.paddock_id === paddock))
  const sward = $derived(swards.data?.find((s) => s.id === paddocks.find((p) => p.id === paddock)?.sward_id))
  let species = $state('')
  let kind = $state<'grazed' | 'ungrazed'>('grazed')
  let plants = $state<Record<'grazed' | 'ungrazed', number[]>>({ grazed: [], ungrazed: [] })
  let height = $state<number | null>(null)
  let own = $state<number | null>(null)
  let limit = $state<number | null>(0.5)
  let from = $state<From>('here')
  let open = $state(true)
  let says = $state.raw<Schemas['TalliesOut'] | null>(null)
  const write = new Write()
  const exponent = $derived(own ?? sward?.height_weight_exponent ?? 2)
  const here = $derived((tallies.data ?? []).filter((t) => t.paddock_id === paddock))
  // svelte-ignore state_referenced_locally
  const draft = new Draft(
    `tally.${farm}.${paddock}`,
    0,
    () => ({ species, kind, plants, own, limit, from }),
    (d) => {
      species = d.species ?? ''
      kind = d.kind ?? 'grazed'
      plants = d.plants ?? { grazed: [], ungrazed: [] }
      own = d.own ?? null
      limit = d.limit ?? 0.5
      from = d.from ?? 'here'
    },
  )
  $effect(() => {
    if (!open) onclose()
  })

  const tally = $derived({
    species: species.trim() || 'the species',
    grazed_cm: plants.grazed,
    ungrazed_cm: plants.ungrazed,
    height_weight_exponent: exponent,
    limit: limit ?? 0.5,
    ungrazed_from: from,
  })
  $effect(() => {
    const at = now().toISOString()
    // Those before it in the same stay say how fast it goes.
    const before = mob?.since ? here.filter((t) => t.counted_at >= mob.since!).map((t) => ({ at: t.counted_at, ...t.tally })) : []
    const body = { entered_at: mob?.since ?? at, tallies: [...before, { at, ...tally }] }
    if (!plants.grazed.length || !plants.ungrazed.length) {
      says = null
      return
    }
    let late = false
    core<Schemas['TalliesOut']>('tallies', body)
      .then((v) => {
        if (!late) says = v
      })
      .catch(() => {}) // the farm says it once it is there
    return () => (late = true)
  })

  async function next() {
    if (height === null) return
    plants = { ...plants, [kind]: [...plants[kind], height] }
    height = null
    if (kind === 'grazed' && plants.grazed.length === wanted && plants.ungrazed.length < wanted) kind = 'ungrazed'
    await tick()
    document.getElementById('plant')?.focus()
  }
  const back = () => (plants = { ...plants, [kind]: plants[kind].slice(0, -1) })

  function keep() {
    const body: Schemas['NewTally'] = {
      id: write.id(),
      paddock_id: paddock,
      mob_id: mob?.mob_id,
      counted_at: now().toISOString(),
      ...tally,
      species,
      confirmed: write.confirmed,
    }
    return keepRecord(
      write,
      farm,
      { route: 'tallies', body },
      `Tally of ${species} in ${paddocks.find((p) => p.id === paddock)?.name}`,
      () => {
        draft.done()
        open = false
      },
    )
  }
  const takeBack = (t: Schemas['TallyView']) =>
    press(() => unpost(farm, { route: 'tallies', body: { id: t.id } }), { say: 'Taken back; it stays on record as taken back.' })
</script>

<Dialog bind:open title="Key plants: has enough been taken?" size="lg">
  <form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void (height === null ? keep() : next()))}>
    <p class="text-sm text-soft">
      One species, on one day, all at the same stage; leaf, not the seed head; the next plant your foot meets, not the one you
      like. None ungrazed here: a paddock beside it of the same mix, or a cage.
    </p>
    <Drafted {draft} />
    <div class="grid grid-cols-2 gap-3 max-md:grid-cols-1">
      <Choice
        label="Where"
        bind:value={paddock}
        options={paddocks.map((p) => ({ value: p.id, label: p.name }))}
        error={write.at('paddock_id')}
      />
      <TextField label="Key species" bind:value={species} error={write.at('species')} hint="as you call it here" />
    </div>
    <div class="grid grid-cols-2 gap-2" role="group" aria-label="Kind of plant">
      <Toggle on={kind === 'grazed'} onclick={() => (kind = 'grazed')}>Grazed, {plants.grazed.length} of {wanted}</Toggle>
      <Toggle on={kind === 'ungrazed'} onclick={() => (kind = 'ungrazed')}>Ungrazed, {plants.ungrazed.length} of {wanted}</Toggle>
    </div>
    <div class="grid grid-cols-[1fr_auto] items-end gap-3">
      {#key plants}
        <NumberField
          id="plant"
          label="Height of {kind} plant {plants[kind].length + 1}, leaf"
          unit="cm"
          bind:value={height}
          error={write.at(`${kind}_cm`)}
        />
      {/key}
      <Button kind="main" onclick={() => void next()} disabled={height === null}>Next plant</Button>
    </div>
    {#if plants[kind].length}
      <p class="flex flex-wrap items-center gap-x-3">
        <span class="text-soft"
          >{plants[kind]
            .slice(-8)
            .map((h) => number(h, 'cm', house.system))
            .join(' · ')}</span
        >
        <Button kind="quiet" onclick={back}>Take the last one out</Button>
      </p>
    {/if}
    {#if says}
      <div class="rounded-xl px-4 py-3 {says.over ? 'bg-now-wash text-now-ink' : 'bg-tarn-wash'}" role="status">
        <p class="flex items-baseline gap-2">
          <Figure value={says.use_by_weight} unit="share" size="huge" decimals={0} /> of the weight, of a limit of {number(
            limit ?? 0.5,
            'share',
            house.system,
          )} %
        </p>
        <p>
          <Reason reason={says.reason} />{#if says.out_at}: {sayDay(new Date(says.out_at))}{/if}.
        </p>
        {#if says.few}<p class="text-sm">
            {says.few} plants more make a mean to move a mob by; until then it is a guess.
          </p>{/if}
      </div>
    {/if}
    <details>
      <summary class="min-h-12 py-3 font-semibold text-tarn">Growth form, limit, where the ungrazed stand</summary>
      <div class="grid grid-cols-3 gap-3 max-md:grid-cols-1">
        <NumberField
          label="Growth form"
          bind:value={() => exponent, (v) => (own = v)}
          error={write.at('height_weight_exponent')}
          hint="weight is height to this power; 1 is a brush of even thickness{sward
            ? `, ${number(sward.height_weight_exponent, '', house.system)} is usual for ${sward.name}`
            : ''}"
        />
        <NumberField
          label="Limit by weight"
          unit="share"
          bind:value={limit}
          error={write.at('limit')}
          hint="stock out above it; a share of weight, never of height"
        />
        <Choice
          label="Ungrazed plants stand"
          bind:value={from}
          options={[
            { value: 'here', label: 'in this paddock' },
            { value: 'neighbour', label: 'in one beside it, of the same mix' },
            { value: 'cage', label: 'in a cage' },
          ]}
        />
      </div>
    </details>
    <Refused
      refusal={write.refusal}
      bind:confirmed={write.confirmed}
      shown={['paddock_id', 'species', 'grazed_cm', 'ungrazed_cm', 'height_weight_exponent', 'limit']}
    />
    <div class="sticky -bottom-4 -mx-1 flex flex-wrap gap-3 border-t border-line bg-surface px-1 pt-3 pb-5 md:-bottom-5">
      <Button kind={says ? 'main' : 'plain'} disabled={write.busy || !says} onclick={() => void keep()}>Keep this tally</Button>
      <Button onclick={() => (open = false)}>Close</Button>
      <button type="submit" class="hidden" aria-hidden="true" tabindex="-1">Enter</button>
    </div>
  </form>
  {#if here.length}
    <section>
      <h3>Before, in this paddock</h3>
      <ul>
        {#each here as t (t.id)}
          <li class="flex flex-wrap items-center gap-2 border-b border-line py-1.5">
            <span class="flex-1"
              ><strong>{t.tally.species}</strong>, {sayMoment(new Date(t.counted_at))}: <Reason reason={t.says.reason} />.</span
            >
            {#if house.may('hand')}<Button kind="quiet" label="Take back: {t.tally.species}" onclick={() => void takeBack(t)}
                >Take back</Button
              >{/if}
          </li>
        {/each}
      </ul>
    </section>
  {/if}
</Dialog>
