<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import { number, withUnit } from '../../ui/units'

  let { farm, day, onclose }: { farm: string; day: string; onclose: () => void } = $props()
  let view = $state<Schemas['DayView'] | null>(null)
  $effect(() => {
    void ask(api.GET('/api/farms/{farm}/stock/day', { params: { path: { farm }, query: { day } } })).then((v) => (view = v))
  })
  const said = $derived(
    new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' }).format(
      new Date(day),
    ),
  )
</script>

<div class="flex items-start justify-between gap-2">
  <h2>{said}</h2>
  <button type="button" class="rounded p-2 text-soft hover:text-ink" aria-label="Close the day" onclick={onclose}
    ><Icon name="close" size={20} /></button
  >
</div>
{#if view}
  <p>
    They eat <Figure
      value={view.farm.value}
      unit="kg_day"
      size="large"
      working={view.farm}
      title="What all mobs eat on this day"
    /> from pasture.
  </p>
  {#each view.mobs as m (m.mob_id)}
    {#if m.head}
      <section class="rounded-xl border border-line bg-page p-3">
        <h3>{m.name}</h3>
        <p>
          <Figure value={m.eaten.value} unit="kg_day" size="large" working={m.eaten} title="Eaten by {m.name}" />
          <span class="text-sm text-soft">eaten</span>
        </p>
        <p class="text-sm">
          <Figure value={m.grown.value} unit="kg_day" working={m.grown} title="Grown for {m.name}" />
          <span class="text-soft">grown for that</span>
        </p>
        <p class="mt-1 text-sm text-soft">
          {number(m.head, 'head', house.system)} head · {withUnit(m.animal_units, 'au', house.system)} · {withUnit(
            m.livestock_units,
            'lu',
            house.system,
          )} · {withUnit(m.live_weight_kg, 'kg', house.system)}
        </p>
        <ul class="mt-1 text-sm">
          {#each m.classes as c (c.id)}<li>
              {number(c.count, 'head', house.system)}
              {c.name}, {withUnit(c.live_weight_kg, 'kg', house.system)}: {withUnit(c.demand_kg_dm_day, 'kg_day', house.system)}
            </li>{/each}
        </ul>
      </section>
    {/if}
  {/each}
{/if}
