<script lang="ts">
  import { many } from '../../ui/many'
  import type { Schemas } from '../../api/client'
  import { api, ask } from '../../api/client'
  import { useGrowth, useReference } from '../../api/queries.svelte'
  import { press } from '../../api/write.svelte'
  import Dial from '../../charts/Dial.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { phone } from '../../ui/media.svelte'
  import { dayMonth } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'

  let { farm }: { farm: string } = $props()
  const growth = useGrowth(() => farm)
  const reference = useReference()

  const later = ['as written', ...Array.from({ length: 11 }, (_, i) => `${many(i + 1, 'month')} later`)]
  /** A learned factor as people say it. */
  const against = (factor: number) => {
    const percent = Math.round((factor - 1) * 100)
    return percent === 0 ? 'as the curve says' : `${Math.abs(percent)} % ${percent > 0 ? 'more' : 'less'} than it`
  }
  const follow = (before: { sward_id: string; curve: string; later_months: number }, curve: string, months: number) => {
    const put = (version: number, body: Schemas['CurveInput']) =>
      ask(
        api.PUT('/api/farms/{farm}/growth/curve', {
          params: { path: { farm }, header: { 'If-Match': version } },
          body,
        }),
      )
    return press(() => put(growth.data!.version, { sward_id: before.sward_id, curve, later_months: months }), {
      say: 'Growth follows another curve from here on.',
      undo: (kept) => put(kept.version, { sward_id: before.sward_id, curve: before.curve, later_months: before.later_months }),
    })
  }

  const badge: Record<string, { word: string; dress: string; shape: string }> = {
    above: { word: 'above', dress: 'bg-tarn text-on-tarn', shape: 'M2 12 8 3l6 9z' },
    even: { word: 'about even', dress: 'bg-surface text-ink border border-line', shape: 'M2 6h12v4H2z' },
    watch: { word: 'watch', dress: 'bg-now-wash text-now-ink border border-now', shape: 'M8 2.5 14 8l-6 5.500L2 8z' },
    act: { word: 'act', dress: 'bg-stop-wash text-stop border border-stop', shape: 'M2 4h12L8 13z' },
  }
  const most = $derived(
    Math.max(1, ...(growth.data?.swards ?? []).map((s) => Math.max(s.growth_kg_dm_ha_day, s.expected_kg_dm_ha_day))),
  )
</script>

{#snippet climate(s: Schemas['SwardGrowth'])}
  <select
    class="w-full rounded-lg border border-soft bg-surface py-1.5 text-[15px]"
    aria-label="Growth curve of {s.name}"
    value={s.curve}
    disabled={!house.may('manager')}
    onchange={(e) => follow(s, e.currentTarget.value, s.later_months)}
  >
    {#each reference.data?.curves ?? [] as c (c.id)}<option value={c.id}>{c.name}</option>{/each}
  </select>
  <select
    class="mt-1 w-full rounded-lg border border-line bg-surface py-1 text-sm text-soft"
    aria-label="When the curve of {s.name} begins"
    value={String(s.later_months)}
    disabled={!house.may('manager')}
    onchange={(e) => follow(s, s.curve, Number(e.currentTarget.value))}
  >
    {#each later as word, i (i)}<option value={String(i)}>{word}</option>{/each}
  </select>
{/snippet}

{#snippet state(s: string)}
  <span class="inline-flex items-center gap-2 rounded-full px-3 py-1 font-bold {badge[s]!.dress}"
    ><svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true"><path d={badge[s]!.shape} fill="currentColor" /></svg
    >{badge[s]!.word}</span
  >
{/snippet}

{#snippet dial(d: Schemas['GrowthDial'], size: number)}
  <div class="flex flex-wrap items-center gap-x-8 gap-y-3">
    <Dial
      growth={d.growth?.value ?? null}
      breakEven={d.break_even?.value ?? null}
      most={d.scale_most_kg_dm_ha_day || 100}
      state={d.state}
      {size}
      label={d.name}
    />
    <div class="min-w-[240px] flex-1">
      <div class="flex items-center gap-3">
        <h2>{d.name}</h2>
        {#if d.growth && d.break_even}{@render state(d.state)}{/if}
      </div>
      <dl class="mt-2 flex flex-wrap gap-x-8 gap-y-2">
        <div>
          <dt class="text-sm text-soft">Grew, to the last walk</dt>
          <dd>
            {#if d.growth}<Figure
                value={d.growth.value}
                half={d.walks.at(-1)?.half_width_kg_dm_ha_day}
                unit="kg_ha_day"
                size={size > 200 ? 'huge' : 'large'}
                working={d.growth}
                title="Growth, {d.name}"
              />{:else}–{/if}
          </dd>
        </div>
        <div>
          <dt class="text-sm text-soft">Growth needed to keep up</dt>
          <dd>
            {#if d.break_even}<Figure
                value={d.break_even.value}
                unit="kg_ha_day"
                size="large"
                working={d.break_even}
                title="Growth needed to keep up, {d.name}"
              />{:else}–{/if}
          </dd>
        </div>
      </dl>
      <p class="mt-2 {size > 200 ? 'text-lg' : ''}">{d.sentence}</p>
      {#if d.walks.length}
        <p class="text-sm text-soft">
          It rests on {many(d.walks.at(-1)!.paddocks, 'paddock')}, {withUnit(d.walks.at(-1)!.area_ha, 'ha', house.system)},
          measured at both walks.
        </p>
      {/if}
      {#if d.walks.length > 1}
        <p class="mt-1 text-sm text-soft">
          Walk by walk: {#each d.walks as w, i (w.at)}{i ? ', ' : ''}<span class="whitespace-nowrap"
              ><strong class="text-ink">{number(w.growth_kg_dm_ha_day, 'kg_ha_day', house.system)}</strong> to {dayMonth(
                new Date(w.at),
              )}</span
            >{/each}
        </p>
      {/if}
    </div>
  </div>
{/snippet}

{#if growth.data}
  {#each growth.data.doubts as d (d.measurement_id)}
    <p class="mb-4 rounded-2xl border-2 border-now bg-now-wash p-4 text-now-ink" role="alert">
      {d.sentence} Look at the readings, or take the walk back, before you act on growth.
    </p>
  {/each}
  <section class="rounded-2xl border border-line bg-surface p-5">{@render dial(growth.data.farm, 280)}</section>
  <p class="my-3 text-sm text-soft">
    Growth above what they need builds a surplus. Below it at one walk: watch. Below it at two walks in a row, about a fortnight:
    act. Both only when the difference is larger than its own ±.
  </p>
  {#if growth.data.mobs.length}
    <div class="grid gap-4 md:grid-cols-2">
      {#each growth.data.mobs as m (m.mob_id)}
        <section class="rounded-2xl border border-line bg-surface p-5">{@render dial(m, 150)}</section>
      {/each}
    </div>
  {/if}
  {#if growth.data.swards.length}
    <section class="mt-4 rounded-2xl border border-line bg-surface p-5">
      <h2 class="mb-2">By sward</h2>
      {#if phone.current}
        <ul>
          {#each growth.data.swards as s (s.sward_id)}
            <li class="border-t border-line py-3 first:border-t-0">
              <p><strong>{s.name}</strong> <span class="text-sm text-soft">{many(s.paddocks, 'paddock')}</span></p>
              <p class="mb-2">
                Grew <strong>{withUnit(s.growth_kg_dm_ha_day, 'kg_ha_day', house.system)}</strong>; the curve expects
                {withUnit(s.expected_kg_dm_ha_day, 'kg_ha_day', house.system)} now. Learned from all walks: {against(
                  s.growth_factor_learned,
                )}.
              </p>
              {@render climate(s)}
            </li>
          {/each}
        </ul>
      {:else}
        <table class="w-full">
          <thead class="text-left text-sm text-soft"
            ><tr
              ><th class="font-normal">Sward</th><th class="font-normal">Grew</th><th class="text-right font-normal"
                >The curve expects now</th
              ><th class="pl-6 text-right font-normal">Against the curve</th><th class="pl-6 font-normal">Climate</th></tr
            ></thead
          >
          <tbody>
            {#each growth.data.swards as s (s.sward_id)}
              <tr class="border-t border-line">
                <td class="py-2 pr-4">{s.name} <span class="text-sm text-soft">{many(s.paddocks, 'paddock')}</span></td>
                <td class="w-[38%]"
                  ><span class="flex items-center gap-2"
                    ><span
                      class="h-4 rounded-r-sm bg-[var(--feed-2)]"
                      style:width="{Math.max(1, (Math.max(0, s.growth_kg_dm_ha_day) / most) * 70)}%"
                    ></span><strong>{withUnit(s.growth_kg_dm_ha_day, 'kg_ha_day', house.system)}</strong></span
                  ></td
                >
                <td class="text-right">{withUnit(s.expected_kg_dm_ha_day, 'kg_ha_day', house.system)}</td>
                <td class="text-right">{against(s.growth_factor_learned)}</td>
                <td class="pl-6">
                  {@render climate(s)}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
      <p class="mt-2 text-sm text-soft">
        {#each growth.data.breaks as b (b)}{b}
        {/each}
        The curve is the reference's for this climate; the factor is what this farm's walks have taught, paddock by paddock, and the
        plan of moves uses it. Within the tropics the rain makes the seasons: put the curve later until its best months are yours.
      </p>
    </section>
  {/if}
{:else}
  <Loading error={growth.error} what="growth" />
{/if}
