<script lang="ts">
  import type { Snippet } from 'svelte'
  import type { Schemas } from '../../api/client'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import { phone } from '../../ui/media.svelte'
  import { clock, shortDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'

  // The moves that are and that come, in order: a table where there is room, lines for a thumb where there is none.
  type Visit = Schemas['VisitView']

  interface Props {
    visits: Visit[]
    mobs: Schemas['MobView'][]
    selected: Visit | null
    onchoose: (v: Visit) => void
    children?: Snippet
  }
  let { visits, mobs, selected, onchoose, children }: Props = $props()

  const coming = $derived(visits.filter((v) => v.kind !== 'past'))
  const mobOf = $derived(new Map(mobs.map((m) => [m.id, m])))
  const titles = ['Mob', 'Paddock', 'In', 'Out', 'Stay', 'Rest before', 'In → out', 'Feed / needed']

  let list = $state<HTMLElement>()
  // What the sheet speaks of stays in sight above it.
  $effect(() => {
    if (selected) setTimeout(() => list?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' }), 50)
  })
</script>

<div class="plain-scroll flex-1 px-5 pb-5 max-md:px-3" bind:this={list}>
  {#if phone.current}
    <ul class="overflow-hidden rounded-2xl border border-line bg-surface" aria-label="Moves to come">
      {#each coming as v, i (i)}
        {@const m = mobOf.get(v.mob_id)}
        <li class="border-t border-line first:border-t-0">
          <button
            type="button"
            class="flex min-h-14 w-full items-center gap-3 px-3 py-2 text-left {selected === v ? 'bg-tarn-wash' : ''}"
            aria-current={selected === v || undefined}
            onclick={() => onchoose(v)}
          >
            {#if m}<Glyph glyph={m.glyph} letter={m.letter} size={28} />{/if}
            <span class="min-w-0 flex-1">
              <strong class="block truncate">{v.paddock_name}{v.pin_id ? ' · fixed' : ''}</strong>
              <span class="block text-sm text-soft"
                >{v.kind === 'now' ? 'since' : 'in'}
                {shortDay(new Date(v.enter_at))}
                {clock(new Date(v.enter_at))}</span
              >
            </span>
            <span class="text-right">
              <span class="block font-bold">{withUnit(v.stay_days, 'day', house.system)}</span>
              <span class="block text-sm {v.short_kg_dm > 1 ? 'font-bold text-stop' : 'text-soft'}"
                >{v.short_kg_dm > 1 ? `${withUnit(v.short_kg_dm, 'kg', house.system)} short` : 'feed enough'}</span
              >
            </span>
          </button>
        </li>
      {/each}
    </ul>
  {:else}
    <table class="w-full rounded-2xl border border-line bg-surface text-sm">
      <thead class="sticky top-0 bg-surface text-left text-sm text-soft">
        <tr
          >{#each titles as h (h)}<th class="px-2 py-3 font-normal whitespace-nowrap">{h}</th>{/each}</tr
        >
      </thead>
      <tbody>
        {#each coming as v, i (i)}
          {@const m = mobOf.get(v.mob_id)}
          <tr class="border-t border-line {selected === v ? 'bg-tarn-wash' : ''}" aria-current={selected === v || undefined}>
            <td class="px-2 py-1"
              >{#if m}<Glyph glyph={m.glyph} letter={m.letter} size={24} />{/if}</td
            >
            <td class="px-2"
              ><button
                type="button"
                class="min-h-10 font-semibold text-tarn underline underline-offset-4"
                onclick={() => onchoose(v)}>{v.paddock_name}</button
              >{v.pin_id ? ' · fixed' : ''}</td
            >
            <td class="px-2 whitespace-nowrap">{shortDay(new Date(v.enter_at))} {clock(new Date(v.enter_at))}</td>
            <td class="px-2 whitespace-nowrap">{shortDay(new Date(v.leave_at))} {clock(new Date(v.leave_at))}</td>
            <td class="px-2">{withUnit(v.stay_days, 'day', house.system)}</td>
            <td class="px-2">{v.rest_days === null ? 'unknown' : withUnit(v.rest_days, 'day', house.system, 0)}</td>
            <td class="px-2 whitespace-nowrap"
              >{number(v.mass_in_kg_dm_ha, 'kg_ha', house.system)} → {number(v.mass_out_kg_dm_ha, 'kg_ha', house.system)}</td
            >
            <td class="px-2 whitespace-nowrap {v.short_kg_dm > 1 ? 'font-bold text-stop' : ''}"
              >{number(v.feed_kg_dm, 'kg', house.system)} / {number(v.demand_kg_dm, 'kg', house.system)}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
  {@render children?.()}
</div>
