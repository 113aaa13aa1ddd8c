<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { useMe } from '../../api/queries.svelte'
  import { house } from '../../ui/house.svelte'
  import { Write } from '../../api/write.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import Verdict from '../../ui/Verdict.svelte'

  // What needs minding, as each person wants to be told of it: some kinds first, some kept quiet. What is quiet is still counted.
  interface Props {
    farm: string
    minding: Schemas['Minding'][]
    /** how many cautions they put away */
    away: number
    /** somebody has a plan: without one nothing can be said of the weeks to come */
    planned: boolean
  }
  let { farm, minding, away, planned }: Props = $props()

  type Kind = Schemas['Minding']['kind']
  type Voice = 'usual' | 'first' | 'quiet'
  const kinds: { key: Kind; label: string }[] = [
    { key: 'feed', label: 'Out of feed, or not seen to drink' },
    { key: 'plan', label: 'What the plan runs into' },
    { key: 'ground', label: 'Two mobs in one paddock' },
    { key: 'count', label: 'A count that is not the books’' },
    { key: 'fence', label: 'Volts of the fence' },
    { key: 'caution', label: 'Cautions whose conditions are met' },
    { key: 'look', label: 'What a look found' },
    { key: 'move', label: 'The evening before a move' },
    { key: 'job', label: 'Jobs whose day has passed' },
    { key: 'walk', label: 'Walks and odd measurements' },
    { key: 'stock', label: 'Books of the stock' },
    { key: 'weather', label: 'Wet ground' },
  ]
  const me = useMe()
  const write = new Write()
  // Until a person says otherwise, it goes by what the farm is after and how experienced its people are.
  const mine = $derived(me.data?.account.minding)
  const choice = $derived<{ quiet: string[]; first: string[] }>(
    mine?.own ? mine : (house.farm?.voices ?? { quiet: [], first: [] }),
  )
  let all = $state(false)

  const first = $derived(minding.filter((m) => choice.first.includes(m.kind)))
  const usual = $derived(minding.filter((m) => !choice.first.includes(m.kind) && !choice.quiet.includes(m.kind)))
  const quiet = $derived(minding.filter((m) => choice.quiet.includes(m.kind)))
  const voiceOf = (k: Kind): Voice => (choice.first.includes(k) ? 'first' : choice.quiet.includes(k) ? 'quiet' : 'usual')

  function set(kind: Kind, voice: Voice) {
    const [was, before] = [choice, mine ?? { quiet: [], first: [] }]
    const put = (body: Schemas['MindingChoice']) => ask(api.PUT('/api/me/minding', { body }))
    const without = { quiet: was.quiet.filter((k) => k !== kind), first: was.first.filter((k) => k !== kind) }
    return write.send(
      () => put({ own: true, ...without, ...(voice === 'usual' ? {} : { [voice]: [...without[voice], kind] }) }),
      {
        say: 'Kept, for you alone.',
        undo: () => put(before),
      },
    )
  }
</script>

{#snippet one(m: Schemas['Minding'], loud: boolean)}
  <a
    href="#/f/{farm}/{m.place}"
    class="flex min-h-12 items-start gap-2.5 border-b border-line py-2.5 hover:text-tarn {loud
      ? 'rounded-xl border-2 border-stop px-3 text-lg'
      : ''}"
  >
    <span class="pt-1"><Verdict state={m.state} word={false} size={loud ? 24 : 18} /></span>
    <span><strong>{m.where}</strong>{m.at ? `, ${sayDay(new Date(m.at))}` : ''}: <Reason reason={m.reason} /></span>
  </a>
{/snippet}

<section id="minding" aria-label="Needs minding" class="shrink-0">
  <h2 class="mb-1">Needs minding</h2>
  {#each first as m, i (i)}{@render one(m, true)}{/each}
  {#each usual as m, i (i)}{@render one(m, false)}{/each}
  {#if !minding.length}<p class="text-soft">
      {planned ? 'Nothing. The plan holds for the next three weeks.' : 'Nothing that Fjell knows of yet.'}
    </p>{/if}
  {#if quiet.length}
    <button
      type="button"
      class="no-print min-h-12 text-left font-semibold text-tarn"
      aria-expanded={all}
      onclick={() => (all = !all)}
      >{quiet.length === 1 ? 'One thing more' : `${quiet.length} things more`}, of kinds you keep quiet</button
    >
    {#if all}{#each quiet as m, i (i)}{@render one(m, false)}{/each}{/if}
  {/if}
  <a href="#/f/{farm}/today?caution=all" class="no-print flex min-h-12 items-center font-semibold text-tarn"
    >{away ? `All cautions, ${away} of them put away` : 'All cautions, and what is so today'}</a
  >
  <details class="no-print">
    <summary class="min-h-12 py-3 text-sm font-semibold text-tarn">What speaks here</summary>
    <div class="flex flex-col gap-2 pb-2">
      {#if !mine?.own}<p class="text-sm text-soft">
          As it is for what this farm is after and how experienced its people are. What you choose is for you alone.
        </p>{/if}
      {#each kinds as k (k.key)}
        <Choice
          label={k.label}
          value={voiceOf(k.key)}
          options={[
            { value: 'usual', label: 'as usual' },
            { value: 'first', label: 'first, and large' },
            { value: 'quiet', label: 'quiet: only counted' },
          ]}
          onchange={(v) => void set(k.key, v)}
        />
      {/each}
      <Refused refusal={write.refusal} />
    </div>
  </details>
</section>
