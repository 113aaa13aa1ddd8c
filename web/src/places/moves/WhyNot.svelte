<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import Search from '../../ui/Search.svelte'
  import { found, sayFound } from '../../ui/seen.svelte'
  import { house } from '../../ui/house.svelte'
  import { withUnit } from '../../ui/units'

  let { farm, visit }: { farm: string; visit: Schemas['VisitView'] } = $props()

  let open = $state(false)
  let words = $state('')
  let why = $state.raw<Schemas['WhyNotView'] | null>(null)
  let refusal = $state('')
  const kg = (v: number) => withUnit(v, 'kg', house.system, 0)

  // Asked when it is opened, and anew when the visit is another.
  $effect(() => {
    const query = { mob_id: visit.mob_id, enter_at: visit.enter_at }
    why = null
    refusal = ''
    if (!open) return
    ask(api.GET('/api/farms/{farm}/plan/why', { params: { path: { farm }, query } }))
      .then((v) => (why = v))
      .catch((error: unknown) => {
        if (!(error instanceof Refusal)) throw error
        refusal = error.message
      })
  })
  const listed = $derived(found(why?.instead ?? [], words, (x) => x.name || 'held and fed'))
</script>

<details bind:open>
  <summary class="min-h-9 py-1 font-semibold text-tarn">Why not another paddock?</summary>
  {#if refusal}
    <p class="text-soft">{refusal}</p>
  {:else if why}
    <p class="text-sm text-soft">
      This move costs {kg(why.cost_kg)} as the planner counts it{#each why.parts as p, i (p.part)}{i ? ', ' : ': '}{p.part}
        {kg(p.kg)}{/each}. Going elsewhere, with all else as it is, costs so much more:
    </p>
    {#if why.instead.length > 8}<Search bind:words said={sayFound(listed.length)} />{/if}
    <ul class="text-sm" aria-live="polite">
      {#each listed as x (x.paddock_id)}
        <li class="flex items-baseline justify-between gap-3 border-t border-line py-1.5">
          <span
            ><strong>{x.name || 'Held and fed'}</strong><br /><span class="text-soft"
              >{#if x.not}{x.not}{:else}{#each x.parts as p, i (p.part)}{i ? ', ' : ''}{p.part} {kg(p.kg)}{/each}{/if}</span
            ></span
          >
          <span class="figure shrink-0">{x.not ? 'no' : `${x.more_kg < 0 ? '−' : '+'} ${kg(Math.abs(x.more_kg))}`}</span>
        </li>
      {/each}
    </ul>
  {:else}
    <p class="text-soft">Working it out…</p>
  {/if}
</details>
