<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { number, withUnit } from '../../ui/units'

  // What can grow on the farm and what is known of it; a farm's own measurements make rows of its own.
  let { farm, swards }: { farm: string; swards: Schemas['Sward'][] } = $props()

  let words = $state('')
  const found = $derived(swards.filter((s) => s.name.toLowerCase().includes(words.trim().toLowerCase())))
  const grass: Record<string, string> = {
    cool: 'cool-season',
    warm: 'warm-season',
    tropical: 'tropical',
    both: 'cool- and warm-season',
  }
  const sure: Record<string, string> = {
    high: 'within 15 %',
    medium: 'within a third',
    low: 'a rule of thumb: may be off by half',
  }
  const ways: Record<string, string> = {
    leaf_residual: 'leaf and residual',
    start_stop: 'start and stop',
    leave_half: 'leave half',
  }

  let making = $state<Omit<Schemas['NewOwnSward'], 'id'> | null>(null)
  const write = new Write()
  const refusal = $derived(write.refusal)

  function like(s: Schemas['Sward']) {
    write.refusal = null
    write.confirmed = false
    making = {
      name: `Our ${s.name.toLowerCase()}`,
      like_id: s.id,
      start_height_cm: s.start_height_cm,
      stop_height_cm: s.stop_height_cm,
      mass_per_cm: s.mass_per_cm.medium,
      residual_kg_dm_ha: s.residual_mass_kg_ha,
      ceiling_kg_dm_ha: s.ceiling_mass_kg_ha,
      peak_growth_kg_dm_ha_day: s.peak_growth_kg_ha_day,
      annual_yield_t_ha: s.annual_yield_t_ha,
    }
  }
  const removed = (id: string) => ask(api.DELETE('/api/farms/{farm}/swards/{id}', { params: { path: { farm, id } } }))
  const keep = () => {
    const id = write.id()
    return write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/swards', {
            params: { path: { farm } },
            body: { ...making!, id, confirmed: write.confirmed },
          }),
        ),
      { say: `${making!.name} can be chosen now.`, undo: () => removed(id), then: () => (making = null) },
    )
  }
  const remove = (s: Schemas['Sward']) => write.send(() => removed(s.id), { say: `${s.name} taken off the list.` })
  const at = (field: string) => write.at(field)
</script>

<h2>What grows, and what is known of it</h2>
<p class="text-sm text-soft">
  Starting figures from public literature. Your own walks and clips replace them: make a row of your own.
</p>
{#if making}
  <form class="flex flex-col gap-3 rounded-xl border border-line p-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <TextField label="Name" bind:value={making.name} error={at('name')} />
    <div class="grid grid-cols-2 gap-3">
      <NumberField compact label="Start height" unit="cm" bind:value={making.start_height_cm} error={at('start_height_cm')} />
      <NumberField compact label="Stop height" unit="cm" bind:value={making.stop_height_cm} error={at('stop_height_cm')} />
      <NumberField
        compact
        label="Mass in each cm or inch"
        unit="kg_ha_cm"
        bind:value={making.mass_per_cm}
        error={at('mass_per_cm')}
      />
      <NumberField
        compact
        label="Stands at the stop"
        unit="kg_ha"
        bind:value={making.residual_kg_dm_ha}
        error={at('residual_kg_dm_ha')}
      />
      <NumberField compact label="Full growth" unit="kg_ha" bind:value={making.ceiling_kg_dm_ha} error={at('ceiling_kg_dm_ha')} />
      <NumberField
        compact
        label="Best growth a day"
        unit="kg_ha_day"
        bind:value={making.peak_growth_kg_dm_ha_day}
        error={at('peak_growth_kg_dm_ha_day')}
      />
      <NumberField
        compact
        label="Grows in a year"
        unit="kg_ha"
        bind:value={() => making!.annual_yield_t_ha * 1000, (v) => (making!.annual_yield_t_ha = (v ?? 0) / 1000)}
        error={at('annual_yield_t_ha')}
      />
    </div>
    <Refused
      {refusal}
      bind:confirmed={write.confirmed}
      shown={refusal?.unusual
        ? []
        : [
            'name',
            'start_height_cm',
            'stop_height_cm',
            'mass_per_cm',
            'residual_kg_dm_ha',
            'ceiling_kg_dm_ha',
            'peak_growth_kg_dm_ha_day',
            'annual_yield_t_ha',
          ]}
    />
    <div class="flex gap-3">
      <Button kind="main" type="submit">Keep it</Button>
      <Button onclick={() => (making = null)}>Cancel</Button>
    </div>
  </form>
{:else}
  <Refused {refusal} shown={[]} />
{/if}
<TextField label="Look for" bind:value={words} />
<ul class="flex flex-col">
  {#each found as s (s.id)}
    <li class="border-t border-line">
      <details>
        <summary class="min-h-11 py-2.5 font-semibold"
          >{s.name}
          <span class="font-normal text-soft">{s.own ? 'yours' : grass[s.season]}</span></summary
        >
        <dl class="grid grid-cols-[minmax(8rem,1fr)_auto] gap-x-3 gap-y-1 pb-2 text-[15px]">
          <dt class="text-soft">Graze from, to</dt>
          <dd class="text-right">
            {number(s.start_height_cm, 'cm', house.system)} to {withUnit(s.stop_height_cm, 'cm', house.system)}
          </dd>
          <dt class="text-soft">Left at the stop</dt>
          <dd class="text-right">{withUnit(s.residual_mass_kg_ha, 'kg_ha', house.system)}</dd>
          <dt class="text-soft">In each step above</dt>
          <dd class="text-right">
            {withUnit(s.mass_per_cm.medium, 'kg_ha_cm', house.system)}<br /><span class="text-sm text-soft"
              >thin {number(s.mass_per_cm.open, 'kg_ha_cm', house.system)}, dense {number(
                s.mass_per_cm.dense,
                'kg_ha_cm',
                house.system,
              )}</span
            >
          </dd>
          <dt class="text-soft">Full growth</dt>
          <dd class="text-right">{withUnit(s.ceiling_mass_kg_ha, 'kg_ha', house.system)}</dd>
          <dt class="text-soft">Best growth</dt>
          <dd class="text-right">{withUnit(s.peak_growth_kg_ha_day, 'kg_ha_day', house.system)}</dd>
          <dt class="text-soft">In a year</dt>
          <dd class="text-right">{withUnit(s.annual_yield_t_ha * 1000, 'kg_ha', house.system)}</dd>
          <dt class="text-soft">Rest, fast to slow</dt>
          <dd class="text-right">
            {number(s.rest_days.fast, 'day', house.system)} to {withUnit(s.rest_days.slow, 'day', house.system)}
          </dd>
          <dt class="text-soft">Way of grazing</dt>
          <dd class="text-right">{s.schools.map((w) => ways[w] ?? w).join(', ')}</dd>
          {#each Object.entries(s.browse_line_cm ?? {}) as [who, cm] (who)}
            <dt class="text-soft">Browse line, {who}</dt>
            <dd class="text-right">{withUnit(cm, 'cm', house.system)}</dd>
          {/each}
          {#if s.hazards.length}
            <dt class="text-soft">Think of</dt>
            <dd class="text-right">{s.hazards.map((h) => h.replaceAll('_', ' ')).join(', ')}</dd>
          {/if}
        </dl>
        <p class="pb-1 text-[15px]">{s.note}</p>
        <p class="pb-2 text-sm text-soft">{s.source}{s.own ? '' : `: ${sure[s.confidence]}`}.</p>
        {#if house.may('manager')}
          <div class="pb-3">
            {#if s.own}<Button kind="quiet" onclick={() => remove(s)}>Take it off the list</Button>
            {:else}<Button kind="quiet" onclick={() => like(s)}>Make one of our own like it</Button>{/if}
          </div>
        {/if}
      </details>
    </li>
  {/each}
</ul>
{#if !found.length}<p class="text-soft">Nothing of that name. Take the nearest, and make it your own.</p>{/if}
