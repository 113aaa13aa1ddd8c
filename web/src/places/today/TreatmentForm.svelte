<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { useTreatments } from '../../api/queries.svelte'
  import { keepRecord, unpost } from '../../api/record'
  import { press, Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { addDays, isoDay, now, sayDay } from '../../ui/time.svelte'

  // What was given to stock or put on ground, as it stands on the label, and for how many days that withholds them.
  interface Props {
    farm: string
    mobs: Schemas['TodayMob'][]
    paddocks: Schemas['PaddockView'][]
    /** the mob or the paddock it is about */
    chosen: string
    onclose: () => void
  }
  let { farm, mobs, paddocks, chosen, onclose }: Props = $props()

  const treatments = useTreatments(() => farm)
  // svelte-ignore state_referenced_locally
  let to = $state(chosen || (mobs[0]?.mob_id ?? ''))
  let product = $state('')
  let tags = $state('')
  let note = $state('')
  let days = $state<number | null>(null)
  let ago = $state('0')
  let open = $state(true)
  const write = new Write()
  const given = $derived(addDays(now(), -Number(ago)))
  const until = $derived(days === null || days < 1 ? null : addDays(given, days))
  const isMob = $derived(mobs.some((m) => m.mob_id === to))
  const name = $derived(mobs.find((m) => m.mob_id === to)?.name ?? paddocks.find((p) => p.id === to)?.name ?? '')
  const day = (d: string) => sayDay(new Date(d + 'T12:00'))
  $effect(() => {
    if (!open) onclose()
  })

  function keep() {
    const body: Schemas['NewTreatment'] = {
      id: write.id(),
      ...(isMob ? { mob_id: to } : { paddock_id: to }),
      product,
      given_on: isoDay(given),
      until_on: until ? isoDay(until) : undefined,
      tags: tags || undefined,
      note: note || undefined,
    }
    return keepRecord(write, farm, { route: 'treatments', body }, `${product}: ${name}`, () => {
      product = ''
      tags = ''
      note = ''
      days = null
    })
  }
  const takeBack = (t: Schemas['TreatmentView']) =>
    press(() => unpost(farm, { route: 'treatments', body: t }), { say: 'Taken back; it stays on record as taken back.' })
</script>

<Dialog bind:open title="Treatments and withholding" size="lg">
  <form class="flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <p class="text-sm text-soft">
      Fjell knows no doses and no waiting times: read both off the label, keep to them, and ask your vet. Gloves and eye
      protection as the label says; spray and dip stay out of water.
    </p>
    <div class="grid grid-cols-2 gap-3 max-md:grid-cols-1">
      <Choice
        label="Given to, or put on"
        bind:value={to}
        options={[
          ...mobs.map((m) => ({ value: m.mob_id, label: m.name, group: 'Stock' })),
          ...paddocks.map((p) => ({ value: p.id, label: p.name, group: 'Ground' })),
        ]}
        error={write.at('mob_id') ?? write.at('paddock_id')}
      />
      <TextField label="Product, as on the label" bind:value={product} error={write.at('product')} />
      <Choice
        label="When"
        bind:value={ago}
        options={[
          { value: '0', label: 'today' },
          { value: '1', label: 'yesterday' },
          ...[2, 3, 4, 5, 6, 7, 10, 14, 21, 28].map((d) => ({ value: String(d), label: `${d} days ago` })),
        ]}
        error={write.at('given_on')}
      />
      <NumberField
        label="Withholds for"
        unit="day"
        bind:value={days}
        error={write.at('until_on')}
        hint={until ? `until ${sayDay(until)}` : 'days on the label; empty: none'}
      />
      {#if isMob}<TextField label="Which" bind:value={tags} error={write.at('tags')} hint="tags; empty: all of them" />{/if}
      <TextField label="Note" bind:value={note} error={write.at('note')} />
    </div>
    <Refused refusal={write.refusal} shown={['mob_id', 'paddock_id', 'product', 'given_on', 'until_on', 'tags', 'note']} />
    <div class="flex flex-wrap gap-3">
      <Button kind="main" type="submit" disabled={write.busy}>Keep it</Button>
      <Button onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
  {#if treatments.data?.length}
    <section>
      <h3>On record</h3>
      <ul>
        {#each treatments.data as t (t.id)}
          <li class="flex flex-wrap items-center gap-2 border-b border-line py-1.5">
            <span class="flex-1"
              ><strong>{t.product}</strong>, {t.mob_name || t.paddock_name}{t.tags ? ` (${t.tags})` : ''}, {day(t.given_on)}
              {#if t.until_on}<span class={t.withholds ? 'font-semibold text-stop' : 'text-soft'}
                  >{t.withholds ? `withholds until ${day(t.until_on)}` : `withheld until ${day(t.until_on)}`}</span
                >{/if}</span
            >
            {#if house.may('manager')}<Button kind="quiet" label="Take back: {t.product}" onclick={() => void takeBack(t)}
                >Take back</Button
              >{/if}
          </li>
        {/each}
      </ul>
    </section>
  {/if}
</Dialog>
