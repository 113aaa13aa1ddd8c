<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import { number, withUnit } from '../../ui/units'

  interface Props {
    mob: Schemas['MobView']
    most: number
    onchange: () => void
  }
  let { mob: m, most, onchange }: Props = $props()
</script>

{#snippet fact(title: string, figure: Schemas['Figure'] | undefined, unit: string, says: string)}
  <div>
    <dt class="text-sm text-soft">{title}</dt>
    <dd>
      {#if figure}<Figure value={figure.value} {unit} size="large" working={figure} title="{title}, {m.name}" />{:else}–{/if}
    </dd>
    <dd class="text-sm text-soft">{says}</dd>
  </div>
{/snippet}

<article class="mb-5 rounded-2xl border border-line bg-surface p-5" aria-label={m.name}>
  <header class="flex flex-wrap items-center gap-3">
    <Glyph glyph={m.glyph} letter={m.letter} size={34} />
    <h2>{m.name}</h2>
    <span class="text-soft"
      >{number(m.head, 'head', house.system)} head · {m.paddock_name ? `in ${m.paddock_name}` : 'not on pasture'}</span
    >
    {#if house.may('manager')}
      <span class="no-print ml-auto"><Button kind="quiet" onclick={onchange}>Change</Button></span>
    {/if}
  </header>
  <div class="mt-3 grid grid-cols-[auto_1fr] gap-x-8 gap-y-4 max-lg:grid-cols-1">
    <div>
      <p class="text-soft">They eat, a day</p>
      <Figure value={m.demand.value} unit="kg_day" size="huge" working={m.demand} title="What {m.name} eat a day" />
      <p class="mt-1 text-sm text-soft">
        grown for that: <Figure value={m.grown.value} unit="kg_day" working={m.grown} title="Grown for {m.name}" />
      </p>
    </div>
    <table class="w-full self-end text-[15px]">
      <thead class="text-left text-sm text-soft">
        <tr
          ><th class="font-normal">Class</th><th class="text-right font-normal">Head</th><th class="text-right font-normal"
            >Weight</th
          ><th class="text-right font-normal">Eats a head</th><th class="w-[32%] pl-4 font-normal">Eaten from pasture</th></tr
        >
      </thead>
      <tbody>
        {#each m.classes as c (c.id)}
          <tr class="border-t border-line">
            <td class="py-1.5">{c.name}</td>
            <td class="text-right">{number(c.count, 'head', house.system)}</td>
            <td class="text-right whitespace-nowrap">{withUnit(c.live_weight_kg, 'kg', house.system)}</td>
            <td class="text-right whitespace-nowrap"
              >{number(c.intake_kg_dm_head_day, 'kg_head_day', house.system)}
              <span class="text-sm text-soft">{number(c.intake_share, 'share', house.system, 1)} %</span></td
            >
            <td class="pl-4">
              <span class="flex items-center gap-2">
                <span class="h-3.5 rounded-sm bg-[var(--feed-2)]" style:width="{(c.demand_kg_dm_day / most) * 66}%"></span>
                <span class="figure">{number(c.demand_kg_dm_day, 'kg_day', house.system)}</span>
              </span>
            </td>
          </tr>
          {#if c.caution}<tr><td colspan="5" class="pb-1 text-sm text-now-ink">{c.caution}</td></tr>{/if}
        {/each}
      </tbody>
    </table>
  </div>
  <dl class="mt-4 grid grid-cols-4 gap-4 border-t border-line pt-4 max-lg:grid-cols-2">
    {@render fact(
      'Stocking rate',
      m.stocking_rate_au,
      'au_ha',
      `over the whole season, on ${withUnit(m.season_area_ha, 'ha', house.system, 1)}: ${m.counted_fields.join(', ')}`,
    )}
    {#if m.area_per_au && (house.system === 'imperial' || m.school.key === 'leave_half')}
      {@render fact(
        'Ground to an animal unit',
        m.area_per_au,
        'ha_au',
        `${number(m.days_out, 'day', house.system, 0)} days out at grass in a year`,
      )}
      {@render fact('Animal unit months', m.au_months, 'aum_ha', 'what the season takes of that ground')}
    {/if}
    {@render fact('The same in head', m.stocking_rate_head, 'head_ha', 'animals over that ground; it rises when land is closed')}
    {@render fact(
      'Stocking density now',
      m.stocking_density,
      'live_kg_ha',
      m.paddock_name
        ? `live weight on the ${withUnit(m.open_area_ha, 'ha', house.system)} open to them at this moment`
        : 'they are not on pasture',
    )}
    {@render fact('Growth needed to keep up', m.break_even, 'kg_ha_day', 'less than this runs the grass down')}
  </dl>
</article>
