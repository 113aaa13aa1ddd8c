<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { useCautions, useMe } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import CautionBody from './CautionBody.svelte'
  import { isPutAway } from './cautions'
  import SayCondition from './SayCondition.svelte'

  // A caution that is due today; or all there are, and what people say is so beside what is on record.
  interface Props {
    farm: string
    due: Schemas['DueView'][]
    /** a caution, or "all" */
    chosen: string
  }
  let { farm, due, chosen }: Props = $props()

  const me = useMe()
  const cautions = useCautions(() => farm)
  const write = new Write()
  const putAway = $derived(me.data?.account.put_away ?? [])
  const now = $derived(due.find((d) => d.id === chosen))
  const title = $derived(now?.title ?? cautions.data?.cautions.find((c) => c.id === chosen)?.title ?? 'Cautions')
  const areas = [
    { key: 'animals', title: 'Animals' },
    { key: 'people', title: 'People' },
    { key: 'land', title: 'Land and water' },
    { key: 'fence', title: 'Fence and power' },
  ] as const

  let open = $state(true)
  $effect(() => {
    if (!open && address.get('caution')) address.show({ caution: '' })
  })

  function seen(d: Schemas['DueView']) {
    const was = putAway
    const put = (body: Schemas['PutAway'][]) => ask(api.PUT('/api/me/put-away', { body }))
    const others = was.filter((p) => p.farm_id !== farm || p.caution !== d.id).slice(-150)
    return write.send(() => put([...others, { farm_id: farm, caution: d.id, since: d.since }]), {
      say: 'Put away, for you alone. It comes back when its conditions do.',
      undo: () => put(was),
      then: () => (open = false),
    })
  }
</script>

<Dialog bind:open {title} size="lg">
  {#if now}
    <div>
      <p class="text-soft">{now.where}, since {sayDay(new Date(now.since + 'T12:00'))}:</p>
      <ul class="list-disc pl-5 text-lg">
        {#each now.because as b, i (i)}<li><Reason reason={b} /></li>{/each}
      </ul>
    </div>
    <CautionBody caution={now} />
    <Refused refusal={write.refusal} />
    <div class="flex flex-wrap gap-3">
      {#if !isPutAway(putAway, farm, now)}
        <Button kind="main" disabled={write.busy} onclick={() => void seen(now)}>Seen: put it away</Button>
      {/if}
      <Button onclick={() => address.set({ caution: 'all' })}>All cautions</Button>
      <Button onclick={() => (open = false)}>Close</Button>
    </div>
  {:else if cautions.data}
    {#if due.length}
      <section>
        <h3>Due today</h3>
        {#each due as d (d.id)}
          <button
            type="button"
            class="flex min-h-12 w-full items-center gap-2 border-b border-line text-left hover:text-tarn"
            onclick={() => address.set({ caution: d.id })}
            ><strong>{d.title}</strong><span class="text-soft">{d.where}{isPutAway(putAway, farm, d) ? ' · put away' : ''}</span
            ></button
          >
        {/each}
      </section>
    {/if}
    <SayCondition {farm} askable={cautions.data.askable} said={cautions.data.said} may={house.may('hand')} />
    {#each areas as area (area.key)}
      <section>
        <h3>{area.title}</h3>
        {#each cautions.data.cautions.filter((c) => c.area === area.key) as c (c.id)}
          <details class="border-b border-line" open={c.id === chosen}>
            <summary class="min-h-12 py-3"><strong>{c.title}.</strong> <span class="text-soft">{c.when}</span></summary>
            <div class="pb-3"><CautionBody caution={c} /></div>
          </details>
        {/each}
      </section>
    {/each}
  {:else}
    <Loading error={cautions.error} what="the cautions" />
  {/if}
</Dialog>
