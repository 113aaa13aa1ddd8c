<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Conflict from '../../ui/Conflict.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'

  // What the farm wants of its ground and its fences: looks and volts are held against it. Nothing here: what is usual holds, and nobody is told anything
  // of the ground.
  let { farm }: { farm: string } = $props()

  type Targets = Schemas['Targets']
  const flat = (t: Targets) => ({
    cover_least: t.ground.cover_least ?? null,
    bare_most: t.ground.bare_most ?? null,
    legume_from: t.ground.legume_from ?? null,
    legume_until: t.ground.legume_until ?? null,
    least_kv: t.least_kv ?? null,
  })
  type Flat = ReturnType<typeof flat>
  const whole = ({ least_kv, ...ground }: Flat): Targets => ({
    ground: Object.fromEntries(Object.entries(ground).filter(([, v]) => v !== null)),
    least_kv: least_kv ?? undefined,
  })
  let mine = $state<Flat>(flat(house.farm!.targets))
  let version = $state(house.farm!.version)
  const write = new Write()
  const put = async (as: Targets, at: number) => {
    const params = { path: { farm }, header: { 'If-Match': at } }
    const saved = await ask(api.PUT('/api/farms/{farm}/targets', { params, body: as }))
    version = saved.version
    return saved
  }
  const save = () => {
    const before = $state.snapshot(house.farm!.targets) as Targets
    return write.send(() => put(whole(mine), version), {
      say: 'Kept: looks and volts are held against it.',
      undo: async (saved) => {
        await put(before, saved.version)
        mine = flat(before)
      },
    })
  }
  const take = (key: string, value: unknown) => {
    if (key === 'targets') mine = flat(value as Targets)
  }
  const said = (_: string, value: unknown) =>
    Object.values(flat(value as Targets))
      .map((v) => v ?? 'not said')
      .join(', ')
</script>

<section class="mt-6 rounded-2xl border border-line bg-surface p-6" aria-label="Your own targets">
  <h2>Your own targets</h2>
  <p class="mb-3 text-soft">
    What you want your ground and your fences to be. Looks and volts are held against them; leave out what you have no target for.
  </p>
  <form onsubmit={(e) => (e.preventDefault(), void save())}>
    <div class="grid grid-cols-5 gap-3 max-lg:grid-cols-2">
      <NumberField
        label="Covered, at least"
        unit="share"
        bind:value={mine.cover_least}
        error={write.at('cover_least')}
        hint="leaf and litter"
      />
      <NumberField label="Bare, at most" unit="share" bind:value={mine.bare_most} error={write.at('bare_most')} />
      <NumberField
        label="Legumes, from"
        unit="share"
        bind:value={mine.legume_from}
        error={write.at('legume_from')}
        hint="of the sward"
      />
      <NumberField label="Legumes, until" unit="share" bind:value={mine.legume_until} error={write.at('legume_until')} />
      <NumberField
        label="Fence, at least"
        unit="kv"
        bind:value={mine.least_kv}
        error={write.at('least_kv')}
        hint="at the far end, for all stock; empty: by species"
      />
    </div>
    <div class="mt-3 flex flex-col gap-3">
      <Conflict
        stored={write.stored}
        mine={{ targets: whole(mine) } as unknown as Record<string, unknown>}
        labels={{ targets: 'Covered, bare, legumes from and until, fence' }}
        say={said}
        ontake={take}
        onkeep={(s) => ((version = s.version), void save())}
      />
      <Refused refusal={write.refusal} shown={['cover_least', 'bare_most', 'legume_from', 'legume_until', 'least_kv']} />
    </div>
    <div class="mt-3"><Button type="submit" disabled={write.busy}>Keep these targets</Button></div>
  </form>
</section>
