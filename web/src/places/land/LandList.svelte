<script lang="ts">
  import { many } from '../../ui/many'
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import Search from '../../ui/Search.svelte'
  import { found, sayFound } from '../../ui/seen.svelte'
  import { number, withUnit } from '../../ui/units'
  import Verdict from '../../ui/Verdict.svelte'

  let {
    land,
    onpick,
    onadd,
  }: { land: Schemas['LandView']; onpick: (paddock: string, field: string) => void; onadd: () => void } = $props()

  const manyRows = 30
  let words = $state('')
  const listed = $derived(found(land.paddocks, words, (p) => p.name))
  const byField = $derived.by(() => {
    const out = new Map<string, typeof listed>()
    for (const p of listed) out.set(p.field_id, [...(out.get(p.field_id) ?? []), p])
    return out
  })
</script>

{#if land.fields.length}
  <div>
    <h2><Figure value={land.total.value} unit="ha" size="large" decimals={1} working={land.total} title="Land" /></h2>
    <p class="text-soft">
      in {many(land.fields.length, 'field')}, {many(land.paddocks.length, 'paddock')}. Pick one here or on the map.
    </p>
  </div>
  {#if land.paddocks.length > manyRows}<Search bind:words said={sayFound(listed.length)} />{/if}
  {#each land.fields.filter((f) => !words || byField.has(f.id)) as f (f.id)}
    <section
      class={land.paddocks.length > manyRows ? '[contain-intrinsic-size:auto_300px] [content-visibility:auto]' : ''}
      aria-label={f.name}
    >
      <h3 class="flex justify-between gap-2 border-b-2 border-line pb-1">
        <span>{f.name}</span><span class="font-normal text-soft">{withUnit(f.grazeable_ha, 'ha', house.system)}</span>
      </h3>
      <ul>
        {#each byField.get(f.id) ?? [] as p (p.id)}
          <li>
            <button
              type="button"
              class="flex min-h-10 w-full items-center gap-2 border-b border-line text-left hover:text-tarn"
              onclick={() => onpick(p.id, f.id)}
            >
              <Verdict
                state={p.mob_ids.length ? 'stop' : p.state}
                said={p.mob_ids.length ? 'being grazed' : undefined}
                word={false}
                size={18}
              />
              <span class="flex-1 truncate">{p.name}</span>
              <span class="text-sm text-soft">{number(p.area_ha, 'ha', house.system)}</span>
              <span class="figure w-20 text-right">{number(p.mass.forage_mass_kg_dm_ha, 'kg_ha', house.system)}</span>
            </button>
          </li>
        {/each}
      </ul>
    </section>
  {/each}
{:else}
  <h2>No land yet</h2>
  <p class="text-soft">Draw a field on the map, walk its fence with a phone, or drop a file on it.</p>
  {#if house.may('manager')}<Button kind="main" onclick={onadd}>Draw a field</Button>{/if}
{/if}
