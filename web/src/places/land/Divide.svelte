<script lang="ts">
  import { onDestroy, untrack } from 'svelte'
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { moment, sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import { edit } from './ground'
  import KeepLayout from './KeepLayout.svelte'
  import Layouts from './Layouts.svelte'

  interface Props {
    farm: string
    field: Schemas['FieldView']
    fields: Schemas['FieldView'][]
    marks: Schemas['MarkView'][]
    mobs: Schemas['MobView'][]
    direction: number
    division: Schemas['DivisionView'] | null
    onfield: (id: string) => void
    ondone: () => void
  }
  let { farm, field, fields, marks, mobs, direction = $bindable(), division = $bindable(), onfield, ondone }: Props = $props()

  type Intent = NonNullable<Schemas['DivideInput']['intent']>
  const intents: { key: Intent; label: string }[] = [
    { key: 'area', label: 'Equal area' },
    { key: 'feed', label: 'Equal feed' },
    { key: 'size', label: 'By size' },
    { key: 'strips', label: 'Strips' },
    { key: 'lane', label: 'Along a lane' },
    { key: 'water', label: 'Around water' },
  ]

  let intent = $state<Intent>('area')
  let parts = $state(4)
  let basis = $state<'usual' | 'today'>('usual')
  let share = $state<'area' | 'usual' | 'today'>('area') // of cells along a lane or around water
  let by = $state<'ha' | 'days'>('ha')
  let size = $state<number | null>(2)
  let days = $state<number | null>(2)
  let width = $state<number | null>(40)
  let byPosts = $state(false)
  let posts = $state<number | null>(5)
  let spacing = $state<number | null>(8)
  let reverse = $state(false)
  let lane = $state('')
  let water = $state('')
  let mob = $state('')
  let stay = $state<number | null>(2)
  let rest = $state<number | null>(null)
  let leastWidth = $state<number | null>(12)
  let refusal = $state<Refusal | null>(null) // of what is only looked at
  const write = new Write()
  let told = $state.raw(division) // the division that the figures beside the map are of
  let least = $state.raw<Schemas['LeastFenceView'] | null>(null)
  let comparing = $state(false)
  let asking = false
  let again = false
  const mostParts = 400
  const restMs = 100 // between two questions while a hand drags

  const lanes = $derived(marks.filter((m) => field.lane_ids.includes(m.id)))
  const waters = $derived(marks.filter((m) => field.water_ids.includes(m.id)))
  const counted = $derived(intent !== 'size' && intent !== 'strips')

  $effect(() => {
    if (!mobs.some((m) => m.id === mob && (!m.field_ids.length || m.field_ids.includes(field.id))))
      mob = mobs.find((m) => !m.field_ids.length || m.field_ids.includes(field.id))?.id ?? ''
    if (!lanes.some((m) => m.id === lane)) lane = lanes[0]?.id ?? ''
    if (!waters.some((m) => m.id === water)) water = waters[0]?.id ?? ''
  })

  const input = $derived<Schemas['DivideInput']>({
    intent,
    parts: counted ? parts : undefined,
    direction_degrees: direction,
    least_width_m: leastWidth ?? undefined,
    basis: intent === 'feed' ? basis : (intent === 'lane' || intent === 'water') && share !== 'area' ? share : undefined,
    paddock_size_ha: intent === 'size' && by === 'ha' ? (size ?? 0) : undefined,
    paddock_days: intent === 'size' && by === 'days' ? (days ?? 0) : undefined,
    strip_width_m: intent === 'strips' && !byPosts ? (width ?? 0) : undefined,
    posts: intent === 'strips' && byPosts ? (posts ?? 0) : undefined,
    post_spacing_m: intent === 'strips' && byPosts ? (spacing ?? 0) : undefined,
    reverse: intent === 'strips' ? reverse : undefined,
    lane_id: intent === 'lane' ? lane : undefined,
    water_id: intent === 'water' ? water : undefined,
    mob_id: mob || undefined,
    stay_days: stay || undefined,
    rest_days: rest || undefined,
  })

  let gone = false
  onDestroy(() => (gone = true))

  // One question under way at a time; the newest wish is asked when the answer is in.
  async function look() {
    if (asking) {
      again = true
      return
    }
    asking = true
    try {
      do {
        again = false
        const soonest = performance.now() + restMs
        try {
          const answer = await ask(
            api.POST('/api/farms/{farm}/fields/{id}/divide', { params: { path: { farm, id: field.id } }, body: input }),
          )
          if (gone) return // nothing is drawn on the map once this is closed
          division = answer
          refusal = null
          // The map first, where the hand is, and the figures a frame later: both in one would hold the hand up.
          await new Promise(requestAnimationFrame)
          await new Promise(requestAnimationFrame)
          told = division
        } catch (error) {
          if (!(error instanceof Refusal)) throw error
          refusal = error
          told = division = null
        }
        await new Promise((resolve) => setTimeout(resolve, soonest - performance.now()))
      } while (again)
    } finally {
      asking = false
    }
  }

  $effect(() => {
    void [input, field.id]
    untrack(() => void look())
  })

  // The direction with least fence is searched when the hand is still.
  let timer: ReturnType<typeof setTimeout>
  $effect(() => {
    void [intent, parts, basis, field.id, mob]
    clearTimeout(timer)
    least = null
    if (intent !== 'area' && intent !== 'feed') return
    timer = setTimeout(async () => {
      try {
        least = await ask(
          api.POST('/api/farms/{farm}/fields/{id}/least-fence', {
            params: { path: { farm, id: field.id } },
            body: untrack(() => input),
          }),
        )
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
      }
    }, 350)
    return () => clearTimeout(timer)
  })
  const off = $derived(
    least && division ? Math.abs(((least.direction_degrees - division.direction_degrees + 270) % 180) - 90) : 0,
  )
  const f = $derived(told?.figures)
  const mobName = $derived(mobs.find((m) => m.id === mob)?.name ?? '')

  async function keep(body: Omit<Schemas['AcceptDivision'], keyof Schemas['DivideInput']>): Promise<Refusal | null> {
    const n = division?.parts.length ?? 0
    const said = body.shelve
      ? `“${body.name}” is kept for ${field.name}.`
      : body.from
        ? `${field.name} will be “${body.name}” from ${sayDay(moment(body.from, '12:00'))}.`
        : `${field.name} has ${n} ${n === 1 ? 'paddock' : 'paddocks'} from today.`
    const went = await edit(write, farm, said, (id) =>
      ask(
        api.POST('/api/farms/{farm}/fields/{id}/layouts', {
          params: { path: { farm, id: field.id } },
          body: { ...input, ...body, id },
        }),
      ),
    )
    if (went) ondone()
    return write.refusal
  }
</script>

<div>
  <p class="text-sm text-soft">Divide</p>
  <div class="flex items-baseline justify-between gap-2">
    <label class="min-w-0"
      ><span class="sr-only">Field</span>
      <select
        class="-ml-2 w-full rounded-lg border-0 bg-transparent py-0.5 pr-8 pl-2 text-2xl font-bold text-ink hover:bg-tarn-wash"
        value={field.id}
        onchange={(e) => onfield(e.currentTarget.value)}
      >
        {#each fields as x (x.id)}<option value={x.id}>{x.name}</option>{/each}
      </select></label
    >
    <span class="whitespace-nowrap text-soft">{withUnit(told?.grazeable_ha ?? field.grazeable_ha, 'ha', house.system)}</span>
  </div>
</div>
<div class="grid grid-cols-2 gap-2" role="group" aria-label="How to divide">
  {#each intents as i (i.key)}
    <button
      type="button"
      class="min-h-11 rounded-lg border px-3 text-left {intent === i.key
        ? 'border-tarn bg-tarn-wash font-semibold text-tarn'
        : 'border-line bg-surface hover:border-soft'}"
      aria-pressed={intent === i.key}
      onclick={() => (intent = i.key)}>{i.label}</button
    >
  {/each}
</div>

{#if counted}
  <div class="flex items-center gap-4">
    <button
      type="button"
      class="size-12 shrink-0 rounded-xl border-2 border-tarn text-2xl font-bold text-tarn disabled:opacity-40"
      aria-label="One fewer"
      disabled={parts <= 1}
      onclick={() => parts--}>−</button
    >
    <input
      class="figure w-24 min-w-0 rounded-xl border-0 bg-transparent p-0 text-center text-[44px] leading-none hover:bg-tarn-wash"
      inputmode="numeric"
      autocomplete="off"
      aria-label="Paddocks"
      value={parts}
      onchange={(e) => {
        const n = Math.round(Number(e.currentTarget.value))
        if (n >= 1 && n <= mostParts) parts = n
        else e.currentTarget.value = String(parts)
      }}
    />
    <button
      type="button"
      class="size-12 shrink-0 rounded-xl border-2 border-tarn text-2xl font-bold text-tarn disabled:opacity-40"
      aria-label="One more"
      disabled={parts >= mostParts}
      onclick={() => parts++}>+</button
    >
    <span class="leading-tight text-soft">
      <strong class="text-lg text-ink"
        >{f?.days_mean
          ? withUnit(f.days_mean.value, 'day', house.system, 1)
          : f
            ? withUnit(f.mean_area.value, 'ha', house.system)
            : '…'}</strong
      ><br />a paddock</span
    >
  </div>
  <input
    type="range"
    min="1"
    max={Math.max(40, parts)}
    bind:value={parts}
    class="w-full accent-[var(--tarn)]"
    aria-label="How many"
  />
{:else if intent === 'size'}
  <div class="grid grid-cols-2 gap-2">
    <Button pressed={by === 'ha'} onclick={() => (by = 'ha')}>By area</Button>
    <Button pressed={by === 'days'} onclick={() => (by = 'days')}>By days of feed</Button>
  </div>
  {#if told && !refusal}
    <p class="text-lg"><strong class="figure">{told.parts.length}</strong> of them fit into {field.name}.</p>
  {/if}
  {#if by === 'ha'}
    <NumberField label="Size of a paddock" unit="ha" bind:value={size} error={refusal?.at('paddock_size_ha')} />
  {:else}
    <NumberField
      label="Days for {mobName || 'the mob'}"
      unit="day"
      bind:value={days}
      error={refusal?.at('paddock_days')}
      hint="By the feed above what you leave, as it stands today."
    />
  {/if}
{:else}
  <div class="grid grid-cols-2 gap-2">
    <Button pressed={!byPosts} onclick={() => (byPosts = false)}>By width</Button>
    <Button pressed={byPosts} onclick={() => (byPosts = true)}>By posts</Button>
  </div>
  {#if byPosts}
    <div class="grid grid-cols-2 gap-3">
      <NumberField label="Gaps a strip" bind:value={posts} error={refusal?.at('posts')} />
      <NumberField label="Post to post" unit="m" bind:value={spacing} error={refusal?.at('post_spacing_m')} />
    </div>
  {:else}
    <NumberField label="Width of a strip" unit="m" bind:value={width} error={refusal?.at('strip_width_m')} />
  {/if}
  <label class="flex min-h-11 items-center gap-3"
    ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={reverse} />Begin on the other side</label
  >
{/if}
{#if intent === 'feed'}
  <Choice
    label="Feed by"
    bind:value={basis}
    options={[
      { value: 'usual', label: 'what the ground usually grows' },
      { value: 'today', label: 'what stands there today' },
    ]}
  />
{:else if intent === 'lane'}
  {#if lanes.length}
    <Choice label="Lane" bind:value={lane} options={lanes.map((m) => ({ value: m.id, label: m.name }))} />
  {:else}<p class="rounded-xl bg-sunken p-3">
      No lane runs through {field.name}. Draw one under Things (X), then come back.
    </p>{/if}
{:else if intent === 'water'}
  {#if waters.length}
    <Choice label="Water" bind:value={water} options={waters.map((m) => ({ value: m.id, label: m.name }))} />
  {:else}<p class="rounded-xl bg-sunken p-3">
      There is no water in {field.name} or on its edge. Mark it under Things (X), then come back.
    </p>{/if}
{/if}
{#if intent === 'lane' || intent === 'water'}
  <Choice
    label="Cells equal by"
    bind:value={share}
    options={[
      { value: 'area', label: 'area' },
      { value: 'usual', label: 'what the ground usually grows' },
      { value: 'today', label: 'what stands there today' },
    ]}
  />
{/if}
{#if intent !== 'lane'}
  <div class="flex flex-col gap-1">
    <label class="flex justify-between text-sm font-semibold" for="direction"
      ><span>{intent === 'water' ? 'First fence runs' : 'Fences run'}</span><span
        >{number(direction, '', house.system, 0)}° from north</span
      ></label
    >
    <input
      id="direction"
      type="range"
      min="0"
      max={intent === 'water' || intent === 'strips' ? 359.5 : 179.5}
      step="0.5"
      bind:value={direction}
      class="w-full accent-[var(--tarn)]"
    />
    {#if told && intent !== 'water'}
      <button
        type="button"
        class="min-h-8 self-start text-sm font-semibold text-tarn underline-offset-4 hover:underline"
        onclick={() => (direction = told!.longest_side_degrees)}>Along the longest side</button
      >
    {/if}
  </div>
{/if}

<Refused
  {refusal}
  shown={['paddock_size_ha', 'paddock_days', 'strip_width_m', 'posts', 'post_spacing_m', 'stay_days', 'rest_days']}
/>
{#if told && f}
  {#if !told.whole}
    <div class="rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink" role="alert">
      <p>{told.parts.filter((p) => p.pieces > 1).length} of these would lie in several pieces (hatched).</p>
      {#if told.whole_nearest_degrees !== null}
        <div class="mt-2">
          <Button onclick={() => (direction = told!.whole_nearest_degrees!)}
            >Turn to {number(told.whole_nearest_degrees, '', house.system, 0)}°: all whole</Button
          >
        </div>
      {/if}
    </div>
  {/if}
  {#if (intent === 'water' || intent === 'lane') && told.parts.some((p) => !p.touches)}
    <p class="rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink" role="alert">
      {told.parts
        .map((p, i) => (p.touches ? 0 : i + 1))
        .filter(Boolean)
        .join(', ')}
      {told.parts.filter((p) => !p.touches).length === 1 ? 'does' : 'do'} not reach the {intent === 'water' ? 'water' : 'lane'}.
    </p>
  {/if}
  <dl class="divide-y divide-line">
    {#snippet row(label: string, figure: Schemas['Figure'] | undefined, decimals?: number)}
      {#if figure}
        <div class="flex items-baseline justify-between gap-3 py-1.5">
          <dt class="text-soft">{label}</dt>
          <dd><Figure value={figure.value} unit={figure.unit} {decimals} working={figure} title={label} /></dd>
        </div>
      {/if}
    {/snippet}
    {#snippet plain(label: string, text: string)}
      <div class="flex items-baseline justify-between gap-3 py-1.5">
        <dt class="text-soft">{label}</dt>
        <dd class="figure text-right">{text}</dd>
      </div>
    {/snippet}
    {@render plain('Paddocks', String(told.parts.length))}
    {@render row('Areas differ by', f.area_spread, 1)}
    {@render row('Feed differs by', f.feed_spread, 1)}
    {@render row('New fence', f.new_fence, 0)}
    {@render plain('Gates, corner posts', `${told.gates}, ${told.corners}`)}
    {@render row('Farthest from water', f.to_water, 0)}
    {#if f.to_water && told.dry}{@render plain('Without water of their own', String(told.dry))}{/if}
    {@render row('Days in the leanest', f.days_least, 1)}
    {@render row('Days in the best', f.days_most, 1)}
    {@render row(`Rest each gets, staying ${number(stay ?? 0, 'day', house.system, 1)} days`, f.rest, 0)}
    {@render row('Paddocks that rest needs', f.needed, 0)}
  </dl>
  {#if !f.fits && f.why}
    <p class="rounded-xl border-2 border-stop bg-stop-wash p-3 text-stop" role="alert"><Reason reason={f.why} /></p>
  {/if}
  {#if least && off > 1}
    <div class="rounded-xl bg-tarn-wash p-3">
      <strong>Least fence</strong> lies {number(off, '', house.system, 0)}° off: {withUnit(
        least.new_fence.value,
        'm',
        house.system,
        0,
      )}{least.dry > told.dry ? `, but ${least.dry} would be without water` : ''}.
      <button
        type="button"
        class="min-h-9 font-semibold text-tarn underline underline-offset-4"
        onclick={() => (direction = least!.direction_degrees)}>Show</button
      >
    </div>
  {/if}
{/if}
<details>
  <summary class="min-h-9 py-1 font-semibold text-tarn">For whom, and how long?</summary>
  <div class="flex flex-col gap-3 pt-1">
    <Choice
      label="Mob"
      bind:value={mob}
      options={[{ value: '', label: 'nobody yet' }, ...mobs.map((m) => ({ value: m.id, label: m.name }))]}
    />
    <div class="grid grid-cols-2 gap-3">
      <NumberField label="Stay" unit="day" bind:value={stay} error={refusal?.at('stay_days')} />
      <NumberField label="Rest asked for" unit="day" bind:value={rest} error={refusal?.at('rest_days')} />
    </div>
    <p class="text-sm text-soft">With a rest, Fjell says how many paddocks it needs: ⌈rest ÷ stay⌉ + 1.</p>
    <NumberField
      label="No paddock narrower than"
      unit="m"
      bind:value={leastWidth}
      hint="Narrower than this stock cannot spread out."
    />
  </div>
</details>
{#if told}
  <details>
    <summary class="min-h-9 py-1 font-semibold text-tarn">If the fences are temporary</summary>
    <p class="py-1">
      Leave {told.corners} corner posts standing all season (the ringed dots on the map). Fencing only the next paddock at a time takes
      {withUnit(told.one_at_a_time_m, 'm', house.system, 0)} of fence in place of {withUnit(
        f?.new_fence.value ?? 0,
        'm',
        house.system,
        0,
      )}.
    </p>
    {#if told.parts.some((p) => p.width_m > 0)}
      <table class="mb-2 w-full text-sm">
        <thead class="text-left text-soft"
          ><tr
            ><th class="font-normal">In grazing order</th><th class="text-right font-normal">Back fence</th><th
              class="text-right font-normal">Front fence</th
            ></tr
          ></thead
        >
        <tbody>
          {#each told.parts as p, i (i)}
            <tr class="border-t border-line"
              ><td class="py-1">{i + 1}</td><td class="figure text-right">{withUnit(p.back_fence_m, 'm', house.system, 0)}</td><td
                class="figure text-right">{withUnit(p.front_fence_m, 'm', house.system, 0)}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
    <ol class="text-sm text-soft">
      {#each told.leave_standing as c, i (i)}<li>{i + 1}: {c[1]!.toFixed(5)}, {c[0]!.toFixed(5)}</li>{/each}
    </ol>
    <p class="pt-1 text-sm text-soft">
      Electric fence: one energiser to a fence, warning signs where people pass, never near power lines; local codes and the
      maker's words hold.
    </p>
  </details>
  {#if house.may('manager')}
    <KeepLayout {field} division={told} {mobs} {keep} />
  {/if}
{/if}
<details bind:open={comparing}>
  <summary class="min-h-9 py-1 font-semibold text-tarn">Ways of dividing kept for {field.name}</summary>
  {#if comparing}
    <Layouts {farm} {field} {mob} stay={stay ?? 0} rest={rest ?? 0} {mobs} />
  {/if}
</details>
<div><Button onclick={ondone}>Leave it as it is</Button></div>
