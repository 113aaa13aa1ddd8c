<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import { core, coreIsHere, loadCore } from '../../core/core'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { phone } from '../../ui/media.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { withUnit } from '../../ui/units'
  import Working from '../../ui/Working.svelte'
  import Answers from './Answers.svelte'
  import { brought, keep } from './carry'
  import KindOfAnimal from './KindOfAnimal.svelte'
  import KindOfGrass from './KindOfGrass.svelte'
  import ListField from './ListField.svelte'

  type Sum = Schemas['Sum']
  type Field = Schemas['Field']
  type Values = Record<string, unknown>

  let { sum, all }: { sum: Sum; all: Sum[] } = $props()

  // The example is the beginner's first answer; what was worked out before replaces its figures. What is still an example
  // looks like one, and what was carried says from where.
  let examples = $state<string[]>([])
  let origins = $state<Record<string, string>>({})
  // svelte-ignore state_referenced_locally
  let values = $state<Values>(start(sum))
  let result = $state<Schemas['Result'] | null>(null)
  let refusal = $state<Refusal | null>(null)
  let asked = 0

  function start(s: Sum): Values {
    const v = structuredClone(s.example) as Values
    examples = s.takes.filter((f) => f.type !== 'choice').map((f) => f.key)
    for (const f of s.takes) {
      const b = f.type === 'number' ? brought(f.key) : undefined
      if (!b) continue
      v[f.key] = b.value
      origins[f.key] = b.from
      examples = examples.filter((k) => k !== f.key)
    }
    return v
  }

  function type(key: string, value: unknown) {
    values[key] = value
    examples = examples.filter((k) => k !== key)
    delete origins[key]
  }

  const method = $derived(sum.takes.find((f) => f.type === 'choice')?.key)
  const shown = $derived(sum.takes.filter((f) => !f.for?.length || (method && f.for.includes(String(values[method])))))
  const left = $derived(shown.filter((f) => examples.includes(f.key) && values[f.key] !== undefined))
  const body = $derived(
    Object.fromEntries(shown.map((f) => [f.key, values[f.key]]).filter(([, v]) => v !== null && v !== undefined && v !== '')),
  )
  const main = $derived(
    sum.answers.find((f) => f.type === 'number' && f.key === lead[sum.key]) ?? sum.answers.find((f) => f.type === 'number'),
  )
  const lead: Record<string, string> = {
    'how-long': 'days',
    demand: 'demand_kg_dm_day',
    feed: 'feed_kg_dm',
    strip: 'length_m',
    equivalence: 'second_per_first',
    stocking: 'animal_units_per_ha',
    sample: 'mean',
    utilisation: 'by_weight',
  }
  const value = $derived(main && result ? (result.out as Values)[main.key] : undefined)
  const onward = $derived(
    result
      ? all.filter(
          (s) =>
            s.key !== sum.key && s.takes.some((f) => f.type === 'number' && typeof (result!.out as Values)[f.key] === 'number'),
        )
      : [],
  )

  $effect(() => {
    const json = JSON.stringify(body)
    const mine = ++asked
    const wait = setTimeout(async () => {
      try {
        const got = await reckoned(json)
        if (mine !== asked) return
        result = got
        refusal = null
        keep(got.out, left.length ? `${sum.label}, of its example` : sum.label)
        for (const f of sum.takes)
          if (f.type === 'number' && !examples.includes(f.key))
            keep({ [f.key]: (body as Values)[f.key] }, origins[f.key] ?? sum.label)
      } catch (error) {
        if (mine !== asked || !(error instanceof Refusal)) return
        refusal = error
        result = null
      }
    }, 120)
    return () => clearTimeout(wait)
  })

  /** The answer of core; until it has been fetched, the server's, which is the same. */
  async function reckoned(json: string): Promise<Schemas['Result']> {
    if (!coreIsHere()) {
      void loadCore().catch(() => undefined)
      const path = { sum: sum.key }
      const got = await ask(api.POST('/api/sums/{sum}', { params: { path }, body: JSON.parse(json) as never })).catch(() => null)
      if (got) return got as Schemas['Result']
    }
    return core<Schemas['Result']>(`sum/${sum.key}`, JSON.parse(json))
  }

  const words: Record<string, string> = {
    residual: 'down to what you leave',
    stop_height: 'down to a height',
    leave_share: 'leave a share',
    harvest_efficiency: 'harvest efficiency',
    top_part: 'the top part',
    plate: 'plate, one height',
    plate_counter: 'plate, counter',
    stick: 'height above the stop',
    clip: 'clip and weigh',
    sheep_goats: 'sheep and goats',
  }
  /** What it means that a sum has no first answer. */
  const unanswered: Record<string, string> = {
    'how-long': 'It grows as fast as they eat it',
    worms: 'So cold, worms do not set it',
  }

  function groupOf(f: Field): Values {
    return (values[f.key] ?? {}) as Values
  }
</script>

<div
  class="mx-auto grid max-w-[1000px] grid-cols-[minmax(0,5fr)_minmax(0,6fr)] grid-rows-[auto_1fr] gap-x-8 gap-y-4 p-8 max-lg:grid-cols-1 max-lg:grid-rows-none max-md:p-4"
>
  <form class="row-span-2 flex min-w-0 flex-col gap-4 max-lg:row-span-1 max-lg:row-start-2" onsubmit={(e) => e.preventDefault()}>
    <div>
      <h1>{sum.label}</h1>
      <p class="text-soft">{sum.question}</p>
    </div>
    {#if left.length}
      <p class="rounded-xl bg-sunken px-4 py-3 text-[15px]">
        {left.length === shown.filter((f) => f.type !== 'choice').length
          ? 'An example: type your own figures over it.'
          : `Still of the example: ${left.map((f) => f.label.toLowerCase()).join(', ')}.`}
      </p>
    {/if}
    {#if shown.some((f) => f.key === 'live_weight_kg')}
      <KindOfAnimal
        onchoose={(kind) => (
          type('live_weight_kg', kind.live_weight_kg.typical),
          type('intake_share', kind.intake_share.typical)
        )}
      />
    {/if}
    {#if shown.some((f) => f.key === 'mass_per_cm')}
      <KindOfGrass
        onchoose={(grass) => (type('stop_height_cm', grass.stop_height_cm), type('mass_per_cm', grass.mass_per_cm.medium))}
      />
    {/if}
    {#each shown as f (f.key)}
      {#if f.type === 'choice'}
        <Choice
          label={f.label}
          value={String(values[f.key])}
          options={(f.choices ?? []).map((c) => ({ value: c, label: words[c] ?? c }))}
          onchange={(v) => (values[f.key] = v)}
        />
      {:else if f.type === 'number'}
        <NumberField
          label={f.label}
          unit={f.unit}
          bind:value={() => (values[f.key] as number | null) ?? null, (v) => type(f.key, v)}
          error={refusal?.at(f.key)}
          example={examples.includes(f.key)}
          hint={origins[f.key] ? `from “${origins[f.key]}”` : f.required || f.for?.length ? undefined : 'may be left out'}
        />
      {:else if f.type === 'group'}
        <fieldset class="rounded-xl border border-line p-4">
          <legend class="px-1 font-semibold">{f.label}</legend>
          <div class="flex flex-col gap-3">
            {#each f.fields ?? [] as g (g.key)}
              <NumberField
                label={g.label}
                unit={g.unit}
                bind:value={() => (groupOf(f)[g.key] as number | null) ?? null, (v) => type(f.key, { ...groupOf(f), [g.key]: v })}
                error={refusal?.at(`${f.key}.${g.key}`)}
              />
            {/each}
          </div>
        </fieldset>
      {:else}
        <ListField field={f} bind:rows={() => (values[f.key] as unknown[]) ?? [], (v) => type(f.key, v)} {refusal} />
      {/if}
    {/each}
  </form>

  <!-- The answer stands before the questions where there is no room beside them. -->
  <div class="h-fit min-w-0 rounded-2xl border border-line bg-surface p-6 max-lg:row-start-1 max-lg:p-4" aria-live="polite">
    {#if phone.current}<p class="font-semibold">{sum.label}</p>{/if}
    {#if result && main}
      <p class="text-soft">{main.label}</p>
      {#if typeof value === 'number'}
        <p class="figure text-[40px] leading-tight">{withUnit(value, main.unit, house.system)}</p>
      {:else if value === null}
        <p class="text-[28px] leading-tight font-bold">
          {unanswered[sum.key] ?? 'not reached'}
        </p>
      {/if}
      <Answers {sum} out={result.out as Values} skip={main.key} />
    {:else if refusal}
      <Refused {refusal} />
    {:else}
      <p class="text-soft">Working it out…</p>
    {/if}
    {#if result?.unusual.length}
      <div class="mt-3 rounded-xl bg-now-wash p-3 text-now-ink">
        {#each result.unusual as u, i (i)}<p>Is this right? {u.message}.</p>{/each}
      </div>
    {/if}
  </div>
  <section class="flex min-w-0 flex-col gap-4" aria-label="The working">
    {#if onward.length}
      <div>
        <h3 class="mb-2">Carry it onward</h3>
        <ul class="flex flex-wrap gap-2">
          {#each onward as s (s.key)}
            <li>
              <a
                href="#/sums/{s.key}"
                class="inline-flex min-h-12 items-center rounded-xl border-2 border-tarn px-4 font-semibold text-tarn hover:bg-tarn-wash"
                >{s.label}</a
              >
            </li>
          {/each}
        </ul>
      </div>
    {/if}
    {#if result}
      <h3>The working</h3>
      <Working figure={{ steps: result.steps }} />
    {/if}
    {#if sum.key === 'stay'}
      <p class="text-sm text-soft">
        For stays over three days the grass that grows meanwhile counts too: the plan of moves does that.
      </p>
    {/if}
    {#if sum.key === 'strip'}
      <p class="text-sm text-soft">Round up when you set the fence: a strip rounded down is feed short.</p>
    {/if}
  </section>
</div>
