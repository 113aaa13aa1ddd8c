<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Conflict from '../../ui/Conflict.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { house } from '../../ui/house.svelte'
  import { isoDay, now } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'
  import PulseGates from './PulseGates.svelte'
  import YearDay from '../../ui/YearDay.svelte'

  type School = Schemas['School']

  interface Props {
    farm: string
    plan: Schemas['PlanView']
    mobs: Schemas['MobView'][]
    onbegun: () => void
    onclose: () => void
  }
  let { farm, plan, mobs, onbegun, onclose }: Props = $props()

  const fresh = (key: string): School => structuredClone($state.snapshot(plan.schools.find((s) => s.key === key)!)) as School
  // svelte-ignore state_referenced_locally
  let startsOn = $state(plan.plan?.starts_on ?? isoDay(now()))
  // svelte-ignore state_referenced_locally
  let days = $state<number | null>(plan.plan?.plan_days ?? 14)
  // svelte-ignore state_referenced_locally
  let schools = $state<Record<string, School>>(
    Object.fromEntries(
      mobs.map((m) => {
        const own = plan.plan?.mobs.find((x) => x.mob_id === m.id)?.school
        return [
          m.id,
          own ? (structuredClone($state.snapshot(own)) as School) : (structuredClone($state.snapshot(m.school)) as School),
        ]
      }),
    ),
  )
  // svelte-ignore state_referenced_locally
  let behind = $state<Record<string, string>>(
    Object.fromEntries(mobs.map((m) => [m.id, plan.plan?.mobs.find((x) => x.mob_id === m.id)?.follows ?? ''])),
  )
  // svelte-ignore state_referenced_locally
  let careful = $state(plan.plan?.careful ?? false)
  const write = new Write()
  const refusal = $derived(write.refusal)

  // svelte-ignore state_referenced_locally
  const draft = new Draft(
    `plan.${plan.plan?.id ?? 'new'}`,
    plan.plan?.version ?? 0,
    () => ({ startsOn, days, schools, behind, careful }),
    (d) => ({ startsOn, days, schools, behind = behind, careful = false } = d),
  )
  const mine = $derived({
    starts_on: startsOn,
    plan_days: days,
    careful,
    mobs: mobs.map((m) => ({ mob_id: m.id, school: schools[m.id]!, follows: behind[m.id] || undefined })),
  })
  function said(key: string, value: unknown): string {
    if (key === 'careful') return value ? 'yes' : 'no'
    if (key !== 'mobs') return String(value ?? 'not said')
    return (value as Schemas['PlanMobInput'][])
      .map((m) => `${mobs.find((x) => x.id === m.mob_id)?.name ?? ''}: ${m.school.name}, ${m.school.rest_min_days} days of rest`)
      .join('; ')
  }
  function take(key: string, value: unknown) {
    if (key === 'starts_on') startsOn = value as string
    else if (key === 'plan_days') days = value as number
    else if (key === 'careful') careful = !!value
    else
      for (const m of value as Schemas['PlanMobInput'][]) {
        schools[m.mob_id] = m.school
        behind[m.mob_id] = m.follows ?? ''
      }
  }

  const save = (anew: boolean) => {
    const body: Schemas['PlanInput'] = {
      starts_on: startsOn,
      plan_days: days ?? 0,
      careful,
      confirmed: write.confirmed,
      mobs: mobs.map((m) => ({
        mob_id: m.id,
        school: $state.snapshot(schools[m.id]!) as School,
        follows: behind[m.id] || undefined,
      })),
    }
    const before = plan.plan
    const then = () => (draft.done(), onclose())
    const say = 'The moves are worked out anew.'
    const begun = onbegun // the form is gone by then
    const searched = (went: boolean) => (went && begun(), went)
    if (!before || anew) {
      const id = write.id()
      return write
        .send(() => ask(api.POST('/api/farms/{farm}/plan', { params: { path: { farm } }, body: { id, ...body } })), {
          say,
          then,
          undo: () => ask(api.DELETE('/api/farms/{farm}/plan/{id}', { params: { path: { farm, id } } })),
        })
        .then(searched)
    }
    const put = (version: number, as: Schemas['PlanInput']) =>
      ask(
        api.PUT('/api/farms/{farm}/plan/{id}', {
          params: { path: { farm, id: before.id }, header: { 'If-Match': version } },
          body: as,
        }),
      )
    return write
      .send(() => put(draft.version, body), {
        say,
        then,
        undo: (saved) =>
          put(saved.plan!.version, {
            starts_on: before.starts_on,
            plan_days: before.plan_days,
            careful: before.careful,
            mobs: $state.snapshot(before.mobs) as Schemas['PlanMobInput'][],
            confirmed: true,
          }),
      })
      .then(searched)
  }
  const figures = [
    'entry_kg_dm_ha',
    'too_old_kg_dm_ha',
    'residual_kg_dm_ha',
    'start_height_cm',
    'stop_height_cm',
    'leave_share',
    'rest_min_days',
    'stay_max_days',
    'utilisation',
    'taller.from',
    'taller.until',
    'taller.by_cm',
  ]
  /** A bite three ways: by height, by mass, by share. */
  const bite = (b: Schemas['Bite']) => {
    const stands = (cm: number | null, kg: number) =>
      `${cm === null ? '' : withUnit(cm, 'cm', house.system, 0) + ', '}${withUnit(kg, 'kg_ha', house.system, 0)}`
    return `in at ${stands(b.entry_cm, b.entry_kg_dm_ha)}; out at ${stands(b.residual_cm, b.residual_kg_dm_ha)}: ${withUnit(b.taken_share, 'share', house.system, 0)} taken`
  }
  const at = (field: string) => write.at(field)
</script>

<h2>{plan.plan ? 'The rules of this plan' : 'Plan the moves'}</h2>
<Drafted {draft} />
<form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void save(false))}>
  <div class="grid grid-cols-2 gap-3">
    <TextField label="Start day" type="date" bind:value={startsOn} error={at('starts_on')} />
    <NumberField label="For" unit="day" bind:value={days} error={at('plan_days')} hint="14 to 60" />
  </div>
  <label class="flex min-h-11 items-center gap-2"
    ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={careful} />Plan for a poor season</label
  >
  {#if careful}
    <p class="text-sm text-soft">
      A search weighs moves by the worst fifth of what may stand and grow here. It costs some feed in a good season and spares
      most in a bad one.
    </p>
  {/if}
  {#each mobs as m, i (m.id)}
    {@const school = schools[m.id]!}
    <fieldset class="flex flex-col gap-3 rounded-xl border border-line p-3">
      <legend class="flex items-center gap-2 px-1 font-semibold"
        ><Glyph glyph={m.glyph} letter={m.letter} size={24} />{m.name}</legend
      >
      <Choice
        label="Way of grazing"
        value={school.key}
        options={plan.schools.map((s) => ({ value: s.key, label: s.name }))}
        hint={plan.schools.find((s) => s.key === school.key)?.idea}
        onchange={(k) => (schools[m.id] = fresh(k))}
      />
      {#if mobs.length > 1}
        <Choice
          label="Comes behind"
          value={behind[m.id]!}
          options={[{ value: '', label: 'Nobody: goes its own way' }].concat(
            mobs.filter((o) => o.id !== m.id).map((o) => ({ value: o.id, label: o.name })),
          )}
          hint={behind[m.id]
            ? 'Gets each paddock when they go on. Nothing is chosen for it; entry and rest are asked of those before. Whose worms and whose bulls go well together is for you and your vet.'
            : undefined}
          error={at(`mobs[${i}].follows`)}
          onchange={(k) => (behind[m.id] = k)}
        />
      {/if}
      <div class="grid grid-cols-2 gap-3">
        {#if school.key === 'leaf_residual'}
          <NumberField
            compact
            label="Enter at"
            unit="kg_ha"
            bind:value={() => school.entry_kg_dm_ha ?? null, (v) => (school.entry_kg_dm_ha = v ?? undefined)}
            error={at(`mobs[${i}].school.entry_kg_dm_ha`)}
          />
          <NumberField
            compact
            label="Leave at"
            unit="kg_ha"
            bind:value={() => school.residual_kg_dm_ha ?? null, (v) => (school.residual_kg_dm_ha = v ?? undefined)}
            error={at(`mobs[${i}].school.residual_kg_dm_ha`)}
          />
          <NumberField
            compact
            label="Past its best"
            unit="kg_ha"
            bind:value={() => school.too_old_kg_dm_ha ?? null, (v) => (school.too_old_kg_dm_ha = v ?? undefined)}
            error={at(`mobs[${i}].school.too_old_kg_dm_ha`)}
          />
        {:else if school.key === 'leave_half' || school.key === 'tall_long' || school.key === 'pulse'}
          <NumberField
            compact
            label="Leave, of what stands"
            unit="share"
            bind:value={() => school.leave_share ?? null, (v) => (school.leave_share = v ?? undefined)}
            error={at(`mobs[${i}].school.leave_share`)}
          />
        {:else}
          <NumberField
            compact
            label="Start height"
            unit="cm"
            bind:value={() => school.start_height_cm ?? null, (v) => (school.start_height_cm = v ?? undefined)}
            error={at(`mobs[${i}].school.start_height_cm`)}
            hint="empty: each sward's own"
          />
          <NumberField
            compact
            label="Stop height"
            unit="cm"
            bind:value={() => school.stop_height_cm ?? null, (v) => (school.stop_height_cm = v ?? undefined)}
            error={at(`mobs[${i}].school.stop_height_cm`)}
            hint="empty: each sward's own"
          />
        {/if}
        <NumberField
          compact
          label="Least rest"
          unit="day"
          bind:value={() => school.rest_min_days, (v) => (school.rest_min_days = v ?? 0)}
          error={at(`mobs[${i}].school.rest_min_days`)}
        />
        <NumberField
          compact
          label="Longest stay"
          unit="day"
          bind:value={() => school.stay_max_days, (v) => (school.stay_max_days = v ?? 0)}
          error={at(`mobs[${i}].school.stay_max_days`)}
        />
        <NumberField
          compact
          label="Share really eaten, rest trodden"
          unit="share"
          bind:value={() => school.utilisation, (v) => (school.utilisation = v ?? 0)}
          error={at(`mobs[${i}].school.utilisation`)}
        />
      </div>
      {#if school.gates}
        <PulseGates
          bind:gates={school.gates}
          takes={plan.pulses.find((p) => p.mob_id === m.id)}
          at={(key) => at(`mobs[${i}].school.gates.${key}`)}
        />
      {/if}
      <label class="flex min-h-11 items-center gap-2"
        ><input
          type="checkbox"
          class="size-5 rounded border-soft"
          checked={!!school.taller}
          onchange={(e) => (school.taller = e.currentTarget.checked ? { from: '06-20', until: '08-20', by_cm: 2 } : undefined)}
        />Keep it taller in the heat</label
      >
      {#if school.taller}
        {@const taller = school.taller}
        <div class="flex flex-col gap-2">
          <Choice
            label="When"
            value={taller.by_weather ? 'weather' : 'weeks'}
            options={[
              { value: 'weeks', label: 'In the same weeks each year' },
              { value: 'weather', label: 'While it is hot and dry, by the weather here' },
            ]}
            hint={taller.by_weather
              ? 'The week as warm as the grass grows best at, or warmer, with less than half the water its roots want. Without weather on record it never is.'
              : undefined}
            onchange={(k) =>
              (school.taller =
                k === 'weather'
                  ? { by_weather: true, by_cm: taller.by_cm }
                  : { from: '06-20', until: '08-20', by_cm: taller.by_cm })}
          />
          {#if !taller.by_weather}
            <YearDay
              label="From"
              bind:value={() => taller.from ?? '', (v) => (taller.from = v)}
              error={at(`mobs[${i}].school.taller.from`)}
            />
            <YearDay
              label="until before"
              bind:value={() => taller.until ?? '', (v) => (taller.until = v)}
              error={at(`mobs[${i}].school.taller.until`)}
            />
          {/if}
          <NumberField
            compact
            label="Taller by"
            unit="cm"
            bind:value={() => taller.by_cm, (v) => (taller.by_cm = v ?? 0)}
            error={at(`mobs[${i}].school.taller.by_cm`)}
          />
        </div>
        <p class="text-sm text-soft">
          Entered and left so much taller: in heat and drought a short sward stands still, and what is left shades the soil and
          keeps its roots alive.
        </p>
      {/if}
      {#each plan.bites.filter((b) => b.mob_id === m.id) as b (b.sward)}
        <p class="text-sm text-soft">
          On {b.sward}, as kept: {bite(b.usual)}{b.hot ? `. In the heat ${bite(b.hot)}` : ''}.
        </p>
      {/each}
    </fieldset>
  {/each}
  <p class="text-sm text-soft">
    Practice differs about how short and how long; each way begins with the figures of the sward they graze most. These figures
    are this plan's own copy: changing them changes nothing else.
  </p>
  <Conflict
    stored={write.stored}
    {mine}
    labels={{ starts_on: 'Start day', plan_days: 'Days', careful: 'For a poor season', mobs: 'Schools' }}
    say={said}
    ontake={take}
    onkeep={(s) => (draft.over(s), void save(false))}
  />
  <Refused {refusal} bind:confirmed={write.confirmed} shown={refusal?.unusual ? [] : ['starts_on', 'plan_days', ...figures]} />
  <div class="flex flex-wrap gap-3">
    <Button kind="main" type="submit">{plan.plan ? 'Work it out' : 'Plan it'}</Button>
    {#if plan.plan}<Button onclick={() => void save(true)}>Start a new plan</Button>{/if}
    <Button onclick={onclose}>Leave it</Button>
  </div>
  {#if plan.plan}
    <p class="text-sm text-soft">
      <a
        class="inline-flex min-h-11 items-center font-semibold text-tarn underline underline-offset-4"
        href="/api/farms/{farm}/plan/problem"
        download="problem.json">Save what this plan rests on as a file</a
      >: paddocks, mobs, limits and pins in numbers, for fjell plan on a computer, or for whoever is to say why a plan is as it
      is.
    </p>
  {/if}
</form>
