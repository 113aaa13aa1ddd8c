<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import { house } from '../../ui/house.svelte'
  import { clock, sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Reason from '../../ui/Reason.svelte'

  interface Props {
    farm: string
    visit: Schemas['VisitView']
    paddock: string
    name: string
    enter: Date
  }
  let { farm, visit, paddock, name, enter }: Props = $props()

  // How long a move is held still over a place before it is asked about, milliseconds.
  const still = 150

  let tried = $state.raw<Schemas['TriedView'] | null>(null)
  let refusal = $state('')
  const kg = (v: number) => withUnit(v, 'kg', house.system, 0)

  $effect(() => {
    const query = {
      mob_id: visit.mob_id,
      paddock_id: paddock,
      enter_at: enter.toISOString(),
      instead_of: visit.pin_id || undefined,
    }
    tried = null
    refusal = ''
    const leaving = new AbortController()
    const timer = setTimeout(() => {
      ask(api.GET('/api/farms/{farm}/plan/tried', { params: { path: { farm }, query }, signal: leaving.signal }))
        .then((v) => (tried = v))
        .catch((error: unknown) => {
          if (leaving.signal.aborted) return
          refusal = error instanceof Refusal ? error.message : 'No signal: what would come of it is not known.'
        })
    }, still)
    return () => {
      clearTimeout(timer)
      leaving.abort()
    }
  })
</script>

<p class="font-bold">{name}, {sayDay(enter)} {clock(enter)}</p>
{#if refusal}
  <p class="font-semibold text-stop">{refusal}</p>
{:else if tried}
  <p>
    {number(tried.visit.mass_in_kg_dm_ha, 'kg_ha', house.system)} in,
    {withUnit(tried.visit.mass_out_kg_dm_ha, 'kg_ha', house.system)} out, {withUnit(tried.visit.stay_days, 'day', house.system)}
  </p>
  <p class={tried.more_kg > 0.5 ? 'text-now-ink' : 'text-tarn'}>
    {#if Math.abs(tried.more_kg) < 0.5}Neither better nor worse{:else}The plan is {kg(Math.abs(tried.more_kg))}
      {tried.more_kg > 0 ? 'worse' : 'better'}{#if tried.parts[0]}: {tried.parts[0].part}{/if}{/if}
  </p>
  {#each tried.checks.slice(0, 2) as c, i (i)}<p class="font-semibold text-stop"><Reason reason={c.reason} /></p>{/each}
{:else}
  <p class="text-soft">Working it out…</p>
{/if}
