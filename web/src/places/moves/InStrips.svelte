<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { clock, shortDay } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'

  let { farm, visit }: { farm: string; visit: Schemas['VisitView'] } = $props()

  let open = $state(false)
  let along = $state(false)
  let behind = $state(false)
  let left = $state<number | null>(null)
  let told = $state.raw<Schemas['StripsView'] | null>(null)
  let refusal = $state('')

  // Asked when it is opened, and anew when the visit is another or the strips are to lie otherwise.
  $effect(() => {
    const query = { mob_id: visit.mob_id, enter_at: visit.enter_at, along, behind, left_kg_dm_ha: left ?? undefined }
    refusal = ''
    if (!open) return
    let late = false
    ask(api.GET('/api/farms/{farm}/plan/strips', { params: { path: { farm }, query } }))
      .then((v) => {
        if (!late) told = v
      })
      .catch((error: unknown) => {
        if (!(error instanceof Refusal)) throw error
        if (!late) refusal = error.message
      })
    return () => (late = true)
  })
  const kg = (v: number) => withUnit(v, 'kg', house.system, 0)
</script>

<details bind:open>
  <summary class="min-h-9 py-1 font-semibold text-tarn">In strips</summary>
  <div class="mt-1 flex flex-col gap-2">
    <label class="flex min-h-11 items-center gap-2"
      ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={along} />Fences along the long side</label
    >
    <label class="flex min-h-11 items-center gap-2"
      ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={behind} />Begin at the other end</label
    >
    <NumberField
      compact
      label="Left on the last strip"
      unit="kg_ha"
      bind:value={left}
      hint="empty: as planned. What is left says what they really take"
    />
    {#if refusal}
      <p class="font-semibold text-stop" role="alert">{refusal}</p>
    {:else if told}
      <ol class="text-sm" aria-live="polite">
        {#each told.strips as s (s.from)}
          <li class="flex items-baseline justify-between gap-3 border-t border-line py-1.5">
            <span
              ><strong>{shortDay(new Date(s.from))} {clock(new Date(s.from))}</strong><br /><span class="text-soft"
                >{#if s.paced_m.value > 0}{withUnit(s.area_ha, 'ha', house.system, 2)}, {kg(s.feed_kg_dm)} for {kg(
                    s.need_kg_dm,
                  )}{/if}{#if s.short_kg_dm > 1}{s.paced_m.value > 0 ? '; ' : ''}the ground ends: {kg(s.short_kg_dm)} short{:else if s.short_if_rounded_down_kg_dm > 0.5};
                  a metre less: {kg(s.short_if_rounded_down_kg_dm)} short{/if}</span
              ></span
            >
            <span class="figure shrink-0 text-lg"
              >{#if s.paced_m.value > 0}<Figure
                  value={s.paced_m.value}
                  unit="m"
                  decimals={0}
                  working={s.paced_m}
                  title="How far the front fence moves"
                />{:else}none{/if}</span
            >
          </li>
        {/each}
      </ol>
      {#if told.left_over_ha > 0.005}
        <p class="text-sm text-soft">
          {withUnit(told.left_over_ha, 'ha', house.system, 2)} is left ungrazed when they go on.
        </p>
      {/if}
      <p class="text-sm text-soft">
        How far the front fence moves, rounded up to what one paces. Move a back fence up behind them before the third day, so
        that they do not bite the regrowth, with water and a way to it kept open. Switch the fence off before you handle it.
      </p>
    {:else}
      <p class="text-soft">Working it out…</p>
    {/if}
  </div>
</details>
