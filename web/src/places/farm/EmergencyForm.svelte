<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Conflict from '../../ui/Conflict.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'

  type Emergency = Schemas['Emergency']
  let { farm, onclose }: { farm: string; onclose: () => void } = $props()

  const before = structuredClone($state.snapshot(house.farm!.emergency)) as Emergency
  let card = $state<Emergency>({
    ...before,
    contacts: before.contacts.length
      ? before.contacts
      : [
          { who: 'Vet', phone: '' },
          { who: 'Power company', phone: '' },
          { who: 'Neighbour', phone: '' },
        ],
  })
  const write = new Write()
  const draft = new Draft(
    'emergency',
    house.farm!.version,
    () => card,
    (d) => (card = d),
  )
  const asked = ['', 'Vet', 'Power company', 'Neighbour']
  const body = () => $state.snapshot(card) as Emergency
  const put = (version: number, as: Emergency) =>
    ask(api.PUT('/api/farms/{farm}/emergency', { params: { path: { farm }, header: { 'If-Match': version } }, body: as }))
  const save = () => {
    // A row that was only offered is none.
    card.contacts = card.contacts.filter((c) => c.phone.trim() || !asked.includes(c.who.trim()))
    return write.send(() => put(draft.version, body()), {
      say: 'The card is kept, on every phone of the farm.',
      then: () => (draft.done(), onclose()),
      undo: (saved) => put(saved.version, before),
    })
  }
  const said = (key: string, value: unknown) =>
    key === 'contacts'
      ? (value as Schemas['Contact'][]).map((c) => `${c.who} ${c.phone}`).join(', ') || 'nobody'
      : key === 'open_signed_out'
        ? value
          ? 'yes'
          : 'no'
        : String(value ?? 'not said')
  const take = (key: string, value: unknown) => (card = { ...card, [key]: value })
</script>

<h2>What helps when it goes wrong</h2>
<Drafted {draft} />
<form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void save())}>
  <fieldset class="flex min-w-0 flex-col gap-3">
    <legend class="text-sm font-semibold">Whom to call, the first first</legend>
    {#each card.contacts as c, i (i)}
      <div class="flex flex-col gap-2 rounded-xl border border-line p-3">
        <TextField label="Who, and what for" bind:value={c.who} error={write.at(`contacts[${i}].who`)} />
        <TextField label="Telephone" type="tel" bind:value={c.phone} error={write.at(`contacts[${i}].phone`)} />
        <div>
          <Button kind="quiet" onclick={() => (card.contacts = card.contacts.filter((_, k) => k !== i))}>Take out</Button>
        </div>
      </div>
    {/each}
    {#if card.contacts.length < 8}
      <div>
        <Button kind="quiet" onclick={() => (card.contacts = [...card.contacts, { who: '', phone: '' }])}>Somebody else</Button>
      </div>
    {/if}
  </fieldset>
  <TextField rows={2} label="How to get here" bind:value={card.where} error={write.at('where')} />
  <div class="grid grid-cols-2 gap-3">
    <NumberField
      label="Latitude of the gate"
      unit=""
      bind:value={card.latitude}
      error={write.at('latitude')}
      hint="empty: the farm's"
    />
    <NumberField label="Longitude" unit="" bind:value={card.longitude} error={write.at('longitude')} />
  </div>
  <TextField rows={2} label="What to shut first" bind:value={card.shut_first} error={write.at('shut_first')} />
  <TextField rows={2} label="What else to know: bulls, dogs, wells" bind:value={card.also} error={write.at('also')} />
  <label class="flex min-h-11 items-center gap-2"
    ><input type="checkbox" class="size-5 shrink-0 rounded border-soft" bind:checked={card.open_signed_out} />Anybody who picks up
    one of our phones may open it, signed out too</label
  >
  <Conflict
    stored={write.stored && { ...write.stored, ...(write.stored as unknown as { emergency: object }).emergency }}
    mine={body() as unknown as Record<string, unknown>}
    labels={{
      contacts: 'Whom to call',
      where: 'How to get here',
      latitude: 'Latitude',
      longitude: 'Longitude',
      shut_first: 'What to shut first',
      also: 'What else to know',
      open_signed_out: 'For anybody with the phone',
    }}
    say={said}
    ontake={take}
    onkeep={(s) => (draft.over(s), void save())}
  />
  <Refused refusal={write.refusal} shown={['where', 'latitude', 'longitude', 'shut_first', 'also', 'who', 'phone']} />
  <div class="flex flex-wrap gap-3">
    <Button kind="main" type="submit" disabled={write.busy}>Keep</Button>
    <Button onclick={onclose}>Leave it</Button>
  </div>
</form>
