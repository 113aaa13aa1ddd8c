<script lang="ts">
  import { newId, type Schemas } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { useLooks, useMobs } from '../../api/queries.svelte'
  import { keepRecord } from '../../api/record'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import CameraGuide from '../../ui/CameraGuide.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import Loading from '../../ui/Loading.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import PhotoPick from '../../ui/PhotoPick.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { addDays, isoDay, now } from '../../ui/time.svelte'
  import Toggle from '../../ui/Toggle.svelte'
  import LookGlyph from './LookGlyph.svelte'

  // A ten-second look: a few taps, all of them optional, in the order in which one sees it.
  interface Props {
    farm: string
    mobs: Schemas['TodayMob'][]
    paddocks: Schemas['PaddockView'][]
    /** the paddock that is looked at */
    chosen: string
    onclose: () => void
  }
  let { farm, mobs, paddocks, chosen, onclose }: Props = $props()

  type Stage = Schemas['NewLook']['stage']
  const looks = useLooks(() => farm)
  // svelte-ignore state_referenced_locally
  let paddock = $state(paddocks.some((p) => p.id === chosen) ? chosen : (paddocks[0]?.id ?? ''))
  const mob = $derived(mobs.find((m) => m.paddock_id === paddock))
  // svelte-ignore state_referenced_locally
  let stage = $state<Stage>(mobs.some((m) => m.paddock_id === paddock) ? 'during' : 'before')
  let answers = $state<Record<string, string>>({})
  let ground = $state<Record<'green_share' | 'litter_share' | 'bare_share' | 'legume_share' | 'forb_share', number | null>>({
    green_share: null,
    litter_share: null,
    bare_share: null,
    legume_share: null,
    forb_share: null,
  })
  let animals = $state<Record<string, { condition: number | null; scored: number | null; lame: string; thin: string }>>({})
  let note = $state('')
  let again = $state('')
  let point = $state('')
  let photos = $state.raw<Blob[]>([])
  let open = $state(true)
  const write = new Write()
  const herd = useMobs(() => farm)
  const classes = $derived(herd.data?.find((m) => m.id === mob?.mob_id)?.classes ?? [])
  const seen = $derived(
    classes.flatMap((c) => {
      const a = animals[c.id!]
      if (!a || (a.condition === null && !a.lame.trim() && !a.thin.trim())) return []
      return [
        {
          class_id: c.id!,
          condition: a.condition ?? undefined,
          scored_head: a.scored ?? undefined,
          lame_tags: a.lame || undefined,
          thin_tags: a.thin || undefined,
        },
      ]
    }),
  )
  const nothing = { condition: null, scored: null, lame: '', thin: '' }
  const say = (id: string, what: Partial<(typeof animals)[string]>) =>
    (animals = { ...animals, [id]: { ...nothing, ...animals[id], ...what } })
  const stages: { value: Stage; label: string }[] = [
    { value: 'before', label: 'Before' },
    { value: 'during', label: 'While they graze' },
    { value: 'after', label: 'After' },
  ]
  const asks = $derived((looks.data?.asks ?? []).filter((a) => a.stages.includes(stage)))
  const points = $derived((looks.data?.points ?? []).filter((p) => p.paddock_id === paddock))
  const says = $derived(
    asks.flatMap((a) => {
      const x = a.answers.find((x) => x.id === answers[a.id])
      return x?.says ? [`${a.label}: ${x.says}.`] : []
    }),
  )
  // svelte-ignore state_referenced_locally
  const draft = new Draft(
    `look.${farm}`,
    0,
    () => ({ answers, ground, animals, note }),
    (d) => {
      answers = d.answers ?? {}
      ground = { ...ground, ...d.ground }
      animals = d.animals ?? {}
      note = d.note ?? ''
    },
  )
  $effect(() => {
    if (!open) onclose()
  })

  function keep() {
    const id = write.id()
    const kept = Object.fromEntries(Object.entries(answers).filter(([k]) => asks.some((a) => a.id === k)))
    const shares = Object.fromEntries(Object.entries(ground).filter(([, v]) => v !== null))
    const body: Schemas['NewLook'] = {
      id,
      paddock_id: paddock,
      mob_id: mob?.mob_id,
      seen_at: now().toISOString(),
      stage,
      answers: kept,
      ground: shares,
      animals: seen,
      note: note || undefined,
      return_on: again ? isoDay(addDays(now(), Number(again))) : undefined,
      confirmed: write.confirmed,
    }
    const name = paddocks.find((p) => p.id === paddock)?.name ?? ''
    return keepRecord(write, farm, { route: 'looks', body }, `Looked at ${name}`, () => {
      for (const blob of photos)
        void outbox.hold({
          farm,
          id: newId(),
          kind: 'photo',
          body: { stop: id, paddock, taken_at: now().toISOString(), blob, stage, point: point || undefined },
        })
      draft.done()
      open = false
    })
  }
</script>

<Dialog bind:open title="A look" size="lg">
  {#if looks.data}
    <form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void keep())}>
      <div class="grid grid-cols-2 items-end gap-3 max-md:grid-cols-1">
        <Choice
          label="Where"
          bind:value={paddock}
          options={paddocks.map((p) => ({ value: p.id, label: p.name }))}
          error={write.at('paddock_id')}
        />
        <div class="flex gap-2" role="group" aria-label="When">
          {#each stages as s (s.value)}
            <Toggle on={stage === s.value} onclick={() => (stage = s.value)}>{s.label}</Toggle>
          {/each}
        </div>
      </div>
      <Drafted {draft} />
      {#each asks as a (a.id)}
        <fieldset>
          <legend class="mb-1 font-semibold">{a.label}</legend>
          <div class="flex flex-wrap gap-2">
            {#each a.answers as x (x.id)}
              {@const on = answers[a.id] === x.id}
              <Toggle {on} onclick={() => (answers = { ...answers, [a.id]: on ? '' : x.id })}
                ><LookGlyph of="{a.id}.{x.id}" />{x.label}</Toggle
              >
            {/each}
          </div>
          {#if write.at(`answers.${a.id}`)}<p class="text-sm font-semibold text-stop" role="alert">
              {write.at(`answers.${a.id}`)}
            </p>{/if}
        </fieldset>
      {/each}
      {#if says.length}
        <div class="rounded-xl bg-now-wash px-3 py-2 text-now-ink" role="status">
          {#each says as s (s)}<p>{s}</p>{/each}
        </div>
      {/if}
      <details>
        <summary class="min-h-12 py-3 font-semibold text-tarn">What covers the ground</summary>
        <p class="mb-2 text-sm text-soft">
          By eye from straight above; together at most all of it. Legume and herbs are shares of the sward.
        </p>
        <div class="grid grid-cols-3 gap-3 max-md:grid-cols-2">
          <NumberField compact label="Green" unit="share" bind:value={ground.green_share} error={write.at('green_share')} />
          <NumberField compact label="Litter" unit="share" bind:value={ground.litter_share} error={write.at('litter_share')} />
          <NumberField compact label="Bare" unit="share" bind:value={ground.bare_share} error={write.at('bare_share')} />
          <NumberField compact label="Legume" unit="share" bind:value={ground.legume_share} error={write.at('legume_share')} />
          <NumberField compact label="Herbs, weeds" unit="share" bind:value={ground.forb_share} error={write.at('forb_share')} />
        </div>
      </details>
      {#if classes.length}
        <details>
          <summary class="min-h-12 py-3 font-semibold text-tarn">Condition by class, the lame and the thin by tag</summary>
          <p class="mb-2 text-sm text-soft">
            By hand over loin and ribs, 1 thin to 5 fat, in quarters: the mean of those you felt. Seen, not diagnosed; ask your
            vet.
          </p>
          {#each classes as c (c.id)}
            {@const k = seen.findIndex((s) => s.class_id === c.id)}
            <fieldset class="mb-3 grid grid-cols-4 gap-3 max-md:grid-cols-2">
              <legend class="mb-1 font-semibold">{c.name}</legend>
              <NumberField
                compact
                label="Condition"
                bind:value={() => animals[c.id!]?.condition ?? null, (v) => say(c.id!, { condition: v })}
                error={k < 0 ? undefined : write.at(`animals[${k}].condition`)}
              />
              <NumberField
                compact
                label="Felt"
                unit="head"
                bind:value={() => animals[c.id!]?.scored ?? null, (v) => say(c.id!, { scored: v })}
                error={k < 0 ? undefined : write.at(`animals[${k}].scored_head`)}
              />
              <TextField
                label="Lame, tags"
                bind:value={() => animals[c.id!]?.lame ?? '', (v) => say(c.id!, { lame: v })}
                error={k < 0 ? undefined : write.at(`animals[${k}].lame_tags`)}
              />
              <TextField
                label="Thin, tags"
                bind:value={() => animals[c.id!]?.thin ?? '', (v) => say(c.id!, { thin: v })}
                error={k < 0 ? undefined : write.at(`animals[${k}].thin_tags`)}
              />
            </fieldset>
          {/each}
        </details>
      {/if}
      <div class="grid grid-cols-2 gap-3 max-md:grid-cols-1">
        <TextField
          label="Note"
          bind:value={note}
          error={write.at('note')}
          hint="tags of the lame or thin, what you saw; described, not diagnosed"
        />
        <Choice
          label="Look again"
          bind:value={again}
          options={[
            { value: '', label: 'no day' },
            { value: '1', label: 'tomorrow' },
            { value: '3', label: 'in three days' },
            { value: '7', label: 'in a week' },
            { value: '21', label: 'in three weeks' },
          ]}
          error={write.at('return_on')}
        />
      </div>
      <div>
        <PhotoPick count={photos.length} onphoto={(b) => (photos = [...photos, b])} />
        {#if photos.length || points.length}
          <div class="mt-2">
            <TextField
              label="From a photo point"
              bind:value={point}
              hint={points.length
                ? `known here: ${points.map((p) => p.point).join(', ')}`
                : 'a name for the spot and direction, so that next year’s is taken from there; or leave it'}
            />
          </div>
        {/if}
        {#each points.filter((p) => p.point === point) as p (p.point)}
          {@const last = p.photos[p.photos.length - 1]!}
          <p class="mt-2 mb-1 text-sm text-soft">The last one from there: stand so that it looks the same.</p>
          <CameraGuide before="/api/farms/{farm}/photos/{last.id}" name={p.point} onphoto={(b) => (photos = [...photos, b])} />
        {/each}
      </div>
      <Refused
        refusal={write.refusal}
        bind:confirmed={write.confirmed}
        shown={['paddock_id', 'note', 'return_on', 'green_share', 'litter_share', 'bare_share', 'legume_share', 'forb_share']}
      />
      <div class="sticky -bottom-4 -mx-1 flex flex-wrap gap-3 border-t border-line bg-surface px-1 pt-3 pb-5 md:-bottom-5">
        <Button kind="main" type="submit" disabled={write.busy}>Keep this look</Button>
        <Button onclick={() => (open = false)}>Cancel</Button>
      </div>
    </form>
  {:else}
    <Loading error={looks.error} what="what a look may say" />
  {/if}
</Dialog>
