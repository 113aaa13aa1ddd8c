<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { useHandovers } from '../../api/queries.svelte'
  import { press, Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { addDays, isoDay, now, sayDay } from '../../ui/time.svelte'
  import LinkShown from './LinkShown.svelte'

  // Cards for whoever takes over for some days, each with a link that ends on a day.
  let { farm }: { farm: string } = $props()

  const cards = useHandovers(() => farm)
  const write = new Write()
  const day = (d: string) => sayDay(new Date(d + 'T12:00'))
  let whom = $state('')
  let from = $state('0')
  let days = $state('7')
  let normal = $state('')
  let made = $state.raw<Schemas['HandoverMade'] | null>(null)
  const first = $derived(addDays(now(), Number(from)))
  const last = $derived(addDays(first, Number(days) - 1))

  const make = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/handovers', {
            params: { path: { farm } },
            body: { id: write.id(), whom, from_on: isoDay(first), last_on: isoDay(last), normal },
          }),
        ),
      {
        then: (m) => {
          made = m
          whom = ''
        },
      },
    )
  const end = (c: Schemas['HandoverRow']) =>
    press(() => ask(api.DELETE('/api/farms/{farm}/handovers/{id}', { params: { path: { farm, id: c.id } } })), {
      say: `The card for ${c.whom} opens nothing any more.`,
    })
</script>

<section class="mt-6 rounded-2xl border border-line bg-surface p-6" aria-label="Somebody takes over">
  <h2 class="mb-1">Somebody takes over</h2>
  <p class="mb-3 text-soft">
    One card for whoever looks after them while you are away: where they go and when, how, what is normal, whom to call. It opens
    by a link, without an account, and follows the plan.
  </p>
  <ul>
    {#each cards.data ?? [] as c (c.id)}
      <li class="flex flex-wrap items-center gap-3 border-b border-line py-1">
        <span class="flex-1"><strong>{c.whom}</strong>, {day(c.from_on)} to {day(c.last_on)}, by {c.by}</span>
        <Button kind="quiet" label="End it: the card for {c.whom}" onclick={() => void end(c)}>End it</Button>
      </li>
    {/each}
  </ul>
  <div class="mt-3 grid grid-cols-3 gap-3 max-md:grid-cols-1">
    <TextField label="For whom" bind:value={whom} error={write.refusal?.at('whom')} />
    <Choice
      label="From"
      bind:value={from}
      options={Array.from({ length: 15 }, (_, i) => ({ value: String(i), label: sayDay(addDays(now(), i)) }))}
      error={write.refusal?.at('from_on')}
    />
    <Choice
      label="For"
      bind:value={days}
      options={[1, 2, 3, 4, 5, 7, 10, 14, 21, 28].map((d) => ({ value: String(d), label: d === 1 ? 'one day' : `${d} days` }))}
      hint="its link ends after {sayDay(last)}"
      error={write.refusal?.at('last_on')}
    />
  </div>
  <div class="mt-3">
    <TextField
      label="What is normal here"
      rows={4}
      bind:value={normal}
      error={write.refusal?.at('normal')}
      hint="how they behave, what the fence reads, where the water shuts, who is tame and who is not"
    />
  </div>
  <div class="mt-3"><Refused refusal={write.refusal} shown={['whom', 'from_on', 'last_on', 'normal']} /></div>
  <div class="mt-3"><Button disabled={write.busy} onclick={() => void make()}>Make the card</Button></div>
  {#if made}<LinkShown
      token={made.token}
      path="handover"
      what="Whoever has this link reads the card. It opens until the end of {day(made.last_on)}, and is shown only now."
    />{/if}
</section>
