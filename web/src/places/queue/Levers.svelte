<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import type { Trial } from '../../api/trial.svelte'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import { money } from '../../ui/money'
  import Reason from '../../ui/Reason.svelte'
  import TrialCards from '../../ui/TrialCards.svelte'
  import { number, withUnit } from '../../ui/units'
  import Decide from './Decide.svelte'
  import LeverForm from './LeverForm.svelte'
  import { levers as kinds, wordsOf, type Kind, type Lever } from './levers'
  import Weeks from './Weeks.svelte'

  // What may be done about a surplus or a shortage: tried, stacked, set aside, compared. Nothing is written.
  interface Props {
    farm: string
    view: Schemas['QueueView']
    mobs: Schemas['MobView'][]
    trial: Trial<Lever, Schemas['TryView']>
  }
  let { farm, view, mobs, trial }: Props = $props()

  interface Aside {
    levers: Lever[]
    missing: number
    moves: number
    money: number
  }
  let adding = $state<Kind | null>(null)
  let asides = $state.raw<Aside[]>([])
  let advice = $state.raw<Schemas['AdviceView'][] | null>(null)
  let advising = $state(false)

  const mobId = $derived(view.queues[view.chosen]?.mob_ids[0] ?? '')
  const here = $derived(mobs.filter((m) => view.queues[view.chosen]?.mob_ids.includes(m.id)))
  const on = $derived(trial.on)
  const tried = $derived(trial.answer)
  // svelte-ignore state_referenced_locally
  trial.put([]) // another queue begins with nothing
  // Its own place in what is asked: those that are off are not asked about.
  const takes = (l: Lever) => (tried && !trial.refusal ? tried.effects[on.indexOf(l)] : undefined)
  const name = (l: Lever) =>
    [
      wordsOf(l.kind).label.replace('…', ''),
      view.rows.find((r) => r.paddock_id === l.paddock_id)?.name ??
        view.apart.find((a) => a.paddock_id === l.paddock_id)?.name ??
        '',
      view.schools.find((x) => x.key === l.school)?.name ?? '',
      l.count ? (l.count > 0 ? `+${l.count}` : String(l.count)) : '',
      l.into_mob_id ? `with ${mobs.find((m) => m.id === l.into_mob_id)?.name}` : '',
    ]
      .filter(Boolean)
      .join(' · ')

  // Another queue, or one that the farm has changed meanwhile, is asked about anew.
  $effect(() => {
    void view
    const body = { mob_id: mobId, levers: on }
    if (mobId) void trial.ask(() => ask(api.POST('/api/farms/{farm}/queue/try', { params: { path: { farm } }, body })))
  })

  const offered = $derived(
    kinds.filter(
      (k) =>
        (k.kind !== 'reopen' || view.apart.length) &&
        (k.kind !== 'reserve' || view.apart.some((a) => a.why === 'kept in reserve')) &&
        (k.kind !== 'join' || mobs.length > 1),
    ),
  )

  function add(l: Lever) {
    trial.add(l)
    adding = null
  }
  async function advise() {
    advising = true
    try {
      const query = { mob_id: mobId }
      advice = (await ask(api.GET('/api/farms/{farm}/queue/advice', { params: { path: { farm }, query } }))).advice
    } catch (error) {
      if (error instanceof Refusal) trial.refusal = error
      else trial.silent = true
    } finally {
      advising = false
    }
  }
  function setAside() {
    if (!tried) return
    asides = [...asides, { levers: on, missing: tried.behind.missing_days, moves: tried.behind.moves, money: tried.money }].slice(
      -4,
    )
    trial.put([])
  }
</script>

<h2>Try something</h2>
<p class="-mt-3 text-soft">Nothing is done until you do it.</p>
<TrialCards {trial} {name}>
  {#snippet of(l)}
    {#each takes(l)?.says ?? [] as s, i (i)}<span class="block text-sm text-soft"><Reason reason={s} /></span>{/each}
    {#if takes(l)?.bales}<span class="block text-sm text-soft">{number(takes(l)!.bales!, 'count', house.system)} bales</span>{/if}
  {/snippet}
</TrialCards>
{#if adding}
  {#key adding}
    <LeverForm
      kind={adding}
      rows={view.rows}
      apart={view.apart}
      spares={view.spares}
      mobs={here}
      all={mobs}
      schools={view.schools}
      onadd={add}
      oncancel={() => (adding = null)}
    />
  {/key}
{:else}
  <div class="grid grid-cols-2 gap-2" role="group" aria-label="What may be tried">
    {#each offered as k (k.kind)}
      <button
        type="button"
        class="flex min-h-12 items-center gap-2 rounded-xl border-2 border-line bg-surface px-3 text-left leading-tight hover:border-tarn"
        onclick={() => (adding = k.kind)}>{k.label}</button
      >
    {/each}
  </div>
{/if}
<div class="flex flex-wrap items-center gap-3">
  <Button onclick={() => void advise()} disabled={advising}>Advise me</Button>
  {#if advising}<span class="text-soft" role="status">Trying the remedies one by one…</span>{/if}
</div>
{#if advice}
  <section aria-label="Advice" aria-live="polite">
    <h3>Advice</h3>
    {#each advice as a, i (a)}
      <div class="border-b border-line py-2">
        <p class="font-semibold">{i + 1}. {a.levers.map(name).join(' + ')}</p>
        <ul class="text-[15px]">
          {#each a.why as w, k (k)}<li><Reason reason={w} />.</li>{/each}
        </ul>
        <Button kind="quiet" label="Try advice {i + 1}" onclick={() => trial.put(a.levers)}>Try advice {i + 1}</Button>
      </div>
    {:else}
      <p>Nothing that Fjell can try beats leaving it as it is.</p>
    {/each}
    <p class="mt-1 text-sm text-soft">
      Ranked by the feed that stock would miss, what gets old uneaten, what is carried home, and what each remedy takes. Money is
      not in it: type your prices into what you try.
    </p>
  </section>
{/if}
{#if tried && !trial.refusal}
  <section aria-label="Next eight weeks">
    <h3>Next eight weeks</h3>
    <Weeks {tried} />
    <div aria-live="polite">
      {#each tried.says as s, i (i)}<p class={i ? '' : 'text-lg font-semibold'}><Reason reason={s} />.</p>{/each}
      {#each tried.warns as w, i (i)}<p class="mt-2 rounded-xl bg-now-wash px-3 py-2 text-now-ink">
          <Reason reason={w} />.
        </p>{/each}
    </div>
    <table class="mt-2 w-full">
      <thead class="text-left text-sm text-soft"
        ><tr
          ><td></td><th scope="col" class="font-normal">as it is</th>{#if on.length}<th scope="col" class="font-normal">so</th
            >{/if}</tr
        ></thead
      >
      <tbody>
        {#each [['Feed missing', tried.before.missing_days, tried.behind.missing_days, 'day'], ['Moves', tried.before.moves, tried.behind.moves, 'count'], ['Eaten', tried.before.eaten_kg_dm, tried.behind.eaten_kg_dm, 'kg'], ['Mean rest', tried.before.mean_rest_days, tried.behind.mean_rest_days, 'day'], ['Left behind', tried.before.mean_left_kg_dm_ha, tried.behind.mean_left_kg_dm_ha, 'kg_ha'], ['Stands in the end', tried.before.ends_at_kg_dm_ha, tried.behind.ends_at_kg_dm_ha, 'kg_ha'], ['In the round', tried.before.area_ha, tried.behind.area_ha, 'ha']] as const as [what, was, is, unit] (what)}
          <tr class="border-t border-line">
            <th scope="row" class="py-1 text-left font-normal">{what}</th>
            <td><Figure value={was} {unit} /></td>
            {#if on.length}<td class="pl-2"><Figure value={is} {unit} /></td>{/if}
          </tr>
        {/each}
      </tbody>
    </table>
    {#if tried.money || tried.hours}
      <p class="mt-2">
        {tried.money < 0 ? 'It brings in' : 'It costs'} <strong>{money(Math.abs(tried.money))}</strong>{#if tried.hours}
          and {withUnit(tried.hours, 'hour', house.system)} of labour{/if}.
      </p>
    {/if}
    {#if on.length}
      <div class="mt-3"><Button onclick={setAside}>Set aside, to compare</Button></div>
      {#if house.may('manager')}<Decide {farm} {mobId} levers={on} ondecided={() => trial.put([])} />{/if}
    {/if}
  </section>
{/if}
{#if asides.length}
  <section aria-label="Set aside">
    <h3>Set aside</h3>
    <ul>
      {#each asides as a (a)}
        <li class="flex items-center gap-2 border-b border-line py-1.5">
          <span class="flex-1"
            >{a.levers.map(name).join(' + ')}
            <span class="block text-sm text-soft"
              >{withUnit(a.missing, 'day', house.system)} of feed missing, {a.moves} moves{a.money
                ? `, ${money(a.money)}`
                : ''}</span
            ></span
          >
          <Button kind="quiet" label="Take up: {a.levers.map(name).join(' + ')}" onclick={() => trial.put(a.levers)}
            >Take up</Button
          >
        </li>
      {/each}
    </ul>
  </section>
{/if}
