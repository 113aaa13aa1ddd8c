<script lang="ts">
  import { useGrade } from '../../api/queries.svelte'
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { clock, sayDay, shortDay } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'
  import { little } from './search.svelte'

  interface Props {
    farm: string
    mobs: Schemas['MobView'][]
    onfix: (move: Schemas['GradeMove']) => void
    onsearch: () => void
    onclose: () => void
  }
  let { farm, mobs, onfix, onsearch, onclose }: Props = $props()

  const grade = useGrade(() => farm)
  const g = $derived(grade.data)
  const better = $derived((g?.spares?.value ?? 0) >= little)
  const eased = (t: Schemas['TakeView']) =>
    ({
      less_rest: `${withUnit(t.by, 'day', house.system)} less rest`,
      longer_stays: `stays ${withUnit(t.by, 'day', house.system)} longer`,
      less_left: `leaving ${withUnit(t.by, 'kg_ha', house.system)} less`,
      fewer_animals: `${withUnit(t.by, 'share', house.system)} fewer animals`,
      all_open: 'nothing closed',
    })[t.what]
  const kg = (v: number) => withUnit(v, 'kg', house.system, 0)
</script>

{#snippet parts(list: Schemas['CostPart'][])}
  {#each list as p, i (p.part)}{i ? ', ' : ''}{p.part} {kg(p.kg)}{/each}
{/snippet}

<h2>How good is this plan?</h2>
{#if !g}
  <Loading error={grade.error} what="a better plan: it takes a few seconds" />
{:else if g.not}
  <p>That cannot be told: {g.not}.</p>
{:else}
  <div aria-live="polite">
    {#if !better}
      <p class="text-lg font-semibold">A search through many plans finds nothing better to speak of.</p>
    {:else}
      <Figure value={g.spares!.value} unit="kg" size="huge" decimals={0} working={g.spares} title="Spared by a searched plan" />
      <p>
        is what a searched plan spares over this one, in dry matter as the planner counts it{g.careful
          ? ', in a poor season'
          : ''}.
      </p>
    {/if}
    <p class="mt-2 text-soft">
      {#if g.most_spares!.value < little}
        No plan at all can spare more.
      {:else}
        No plan at all can spare more than <Figure
          value={g.most_spares!.value}
          unit="kg"
          decimals={0}
          working={g.most_spares}
          title="No plan spares more"
        />: that is proven, and the truth lies between.
      {/if}
      {g.finished ? '' : 'The search was stopped by its limit of time.'}
    </p>
  </div>
  {#if better && house.may('manager')}
    <div><Button kind="main" onclick={onsearch}>Take the better plan</Button></div>
  {/if}
  {#if better && g.from.length}
    <dl class="divide-y divide-line" aria-label="Where it comes from">
      {#each g.from as p (p.part)}
        <div class="flex items-baseline justify-between gap-3 py-1.5">
          <dt class="text-soft">{p.part}</dt>
          <dd class="figure">{p.kg < 0 ? 'spares' : 'costs'} {kg(Math.abs(p.kg))}</dd>
        </div>
      {/each}
    </dl>
  {/if}
  <p class="rounded-xl p-3 {(g.short_chance?.value ?? 0) >= 0.2 ? 'border-2 border-now bg-now-wash text-now-ink' : 'bg-sunken'}">
    {#if !g.short_chance?.value}
      In none of 100 drawn futures of growth is anybody short of feed on this plan.
    {:else}
      In <Figure
        value={g.short_chance.value}
        unit="share"
        decimals={0}
        working={g.short_chance}
        title="Somebody is short of feed"
      /> of 100 drawn futures of growth somebody is short of feed on this plan{g.first_short_at
        ? `, from ${sayDay(new Date(g.first_short_at))} on`
        : ''}: most often {g.short_mob}{g.short_paddock ? ` in ${g.short_paddock}` : ''}.
    {/if}
  </p>
  {#if g.takes.length}
    <div>
      <h3>What would it take?</h3>
      <p class="text-soft">
        Even the searched plan leaves {kg(g.missing_kg)} to be fed or gone without. Any one of these would lessen that, found in a short
        search:
      </p>
      <ul>
        {#each g.takes as t (t.what)}
          <li class="flex items-baseline justify-between gap-3 border-t border-line py-1.5">
            <span>{eased(t)}</span><span class="figure shrink-0">{kg(t.less_kg)} less</span>
          </li>
        {/each}
      </ul>
      <p class="text-sm text-soft">
        Less rest and less left behind are borrowed from the turns after: the next plan pays for them.
      </p>
    </div>
  {/if}
  {#if g.moves.length}
    <h3>What the searched plan does next</h3>
    <ul class="flex flex-col">
      {#each g.moves as m (m.mob_id + m.enter_at)}
        {@const mob = mobs.find((x) => x.id === m.mob_id)}
        <li class="border-b border-line py-2">
          <div class="flex items-center gap-2">
            {#if mob}<Glyph glyph={mob.glyph} letter={mob.letter} size={22} />{/if}
            <span class="min-w-0 flex-1"
              ><strong>{m.name || 'held and fed off the pasture'}</strong><br /><span class="text-sm text-soft"
                >{shortDay(new Date(m.enter_at))}
                {clock(new Date(m.enter_at))} to {shortDay(new Date(m.leave_at))}
                {clock(new Date(m.leave_at))}{m.as_planned ? ', as planned' : ''}</span
              ></span
            >
            {#if !m.as_planned && m.paddock_id && house.may('manager')}
              <Button onclick={() => onfix(m)}>Fix it</Button>
            {/if}
          </div>
          <details>
            <summary class="min-h-9 py-1 text-sm font-semibold text-tarn">Why?</summary>
            <p class="text-sm">
              {#if m.paddock_id}
                From {withUnit(m.mass_in_kg_dm_ha, 'kg_ha', house.system)} down to {withUnit(
                  m.mass_out_kg_dm_ha,
                  'kg_ha',
                  house.system,
                )}{m.rest_days === null ? '' : `, after ${withUnit(m.rest_days, 'day', house.system, 0)} of rest`}.
              {/if}
              It costs {kg(m.cost_kg)}{#if m.parts.length}: {@render parts(m.parts)}{/if}.
            </p>
            {#each m.instead as other (other.name)}
              <p class="mt-1 text-sm text-soft">
                {#if other.not}
                  Not {other.name || 'held and fed'}: {other.not}.
                {:else}
                  {other.name || 'Held and fed'} instead: {kg(Math.abs(other.more_kg))}
                  {other.more_kg < 0 ? 'less' : 'more'}{#if other.parts.length}
                    ({@render parts(other.parts)}){/if}.
                {/if}
              </p>
            {/each}
          </details>
        </li>
      {/each}
    </ul>
  {/if}
  <p class="text-sm text-soft">
    A plan costs what stock miss, what is eaten below the residual, entered too soon or past its best, rested too little or stayed
    in too long, each move and each way walked; what stands at the end counts to the good. Grass that dies back is not in it.
  </p>
{/if}
<div><Button onclick={onclose}>Close</Button></div>
