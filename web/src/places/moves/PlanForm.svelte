<script lang="ts">
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, now } from '../../ui/time.svelte'

  type School = Schemas['School']

  interface Props {
    farm: string
    plan: Schemas['PlanView']
    mobs: Schemas['MobView'][]
    onclose: () => void
  }
  let { farm, plan, mobs, onclose }: Props = $props()

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
        return [m.id, own ? (structuredClone($state.snapshot(own)) as School) : fresh('leaf_residual')]
      }),
    ),
  )
  let confirmed = $state(false)
  let refusal = $state<Refusal | null>(null)
  let id = newId()

  async function save(anew: boolean) {
    const body: Schemas['PlanInput'] = {
      starts_on: startsOn,
      plan_days: days ?? 0,
      confirmed,
      mobs: mobs.map((m) => ({ mob_id: m.id, school: $state.snapshot(schools[m.id]!) as School })),
    }
    try {
      if (plan.plan && !anew)
        await ask(
          api.PUT('/api/farms/{farm}/plan/{id}', {
            params: { path: { farm, id: plan.plan.id }, header: { 'If-Match': plan.plan.version } },
            body,
          }),
        )
      else await ask(api.POST('/api/farms/{farm}/plan', { params: { path: { farm } }, body: { id, ...body } }))
      await refresh()
      house.say('The moves are worked out anew.')
      onclose()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
      id = newId()
    }
  }
  const figures = [
    'entry_kg_dm_ha',
    'too_old_kg_dm_ha',
    'residual_kg_dm_ha',
    'start_height_cm',
    'stop_height_cm',
    'rest_min_days',
    'stay_max_days',
    'utilisation',
  ]
  const at = (field: string) => (refusal?.unusual ? undefined : refusal?.at(field))
</script>

<h2>{plan.plan ? 'The rules of this plan' : 'Plan the moves'}</h2>
<form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void save(false))}>
  <div class="grid grid-cols-2 gap-3">
    <TextField label="Start day" type="date" bind:value={startsOn} error={at('starts_on')} />
    <NumberField label="For" unit="day" bind:value={days} error={at('plan_days')} hint="14 to 60" />
  </div>
  {#each mobs as m (m.id)}
    {@const school = schools[m.id]!}
    <fieldset class="flex flex-col gap-3 rounded-xl border border-line p-3">
      <legend class="flex items-center gap-2 px-1 font-semibold"
        ><Glyph glyph={m.glyph} letter={m.letter} size={24} />{m.name}</legend
      >
      <Choice
        label="School"
        value={school.key}
        options={plan.schools.map((s) => ({ value: s.key, label: s.name }))}
        hint={plan.schools.find((s) => s.key === school.key)?.idea}
        onchange={(k) => (schools[m.id] = fresh(k))}
      />
      <div class="grid grid-cols-2 gap-3">
        {#if school.key === 'leaf_residual'}
          <NumberField
            compact
            label="Enter at"
            unit="kg_ha"
            bind:value={() => school.entry_kg_dm_ha ?? null, (v) => (school.entry_kg_dm_ha = v ?? undefined)}
            error={at('entry_kg_dm_ha')}
          />
          <NumberField
            compact
            label="Leave at"
            unit="kg_ha"
            bind:value={() => school.residual_kg_dm_ha ?? null, (v) => (school.residual_kg_dm_ha = v ?? undefined)}
            error={at('residual_kg_dm_ha')}
          />
          <NumberField
            compact
            label="Past its best"
            unit="kg_ha"
            bind:value={() => school.too_old_kg_dm_ha ?? null, (v) => (school.too_old_kg_dm_ha = v ?? undefined)}
            error={at('too_old_kg_dm_ha')}
          />
        {:else}
          <NumberField
            compact
            label="Start height"
            unit="cm"
            bind:value={() => school.start_height_cm ?? null, (v) => (school.start_height_cm = v ?? undefined)}
            error={at('start_height_cm')}
            hint="empty: each sward's own"
          />
          <NumberField
            compact
            label="Stop height"
            unit="cm"
            bind:value={() => school.stop_height_cm ?? null, (v) => (school.stop_height_cm = v ?? undefined)}
            error={at('stop_height_cm')}
            hint="empty: each sward's own"
          />
        {/if}
        <NumberField
          compact
          label="Least rest"
          unit="day"
          bind:value={() => school.rest_min_days, (v) => (school.rest_min_days = v ?? 0)}
          error={at('rest_min_days')}
        />
        <NumberField
          compact
          label="Longest stay"
          unit="day"
          bind:value={() => school.stay_max_days, (v) => (school.stay_max_days = v ?? 0)}
          error={at('stay_max_days')}
        />
        <NumberField
          compact
          label="Eaten, of what goes"
          unit="share"
          bind:value={() => school.utilisation, (v) => (school.utilisation = v ?? 0)}
          error={at('utilisation')}
        />
      </div>
    </fieldset>
  {/each}
  <p class="text-sm text-soft">
    Schools disagree about how short and how long. These figures are this plan's own copy: changing them changes nothing else.
  </p>
  <Refused {refusal} bind:confirmed shown={refusal?.unusual ? [] : ['starts_on', 'plan_days', ...figures]} />
  <div class="flex flex-wrap gap-3">
    <Button kind="main" type="submit">{plan.plan ? 'Work it out' : 'Plan it'}</Button>
    {#if plan.plan}<Button onclick={() => void save(true)}>Start a new plan</Button>{/if}
    <Button onclick={onclose}>Leave it</Button>
  </div>
</form>
