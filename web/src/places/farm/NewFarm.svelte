<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, type Schemas } from '../../api/client'
  import { useMe } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import FarmForm from './FarmForm.svelte'
  import Invitations from './Invitations.svelte'

  const me = useMe()
  // Somebody who waits to be asked sees it soon after it is done.
  $effect(() => {
    const asking = setInterval(() => void me.refetch(), 5000)
    return () => clearInterval(asking)
  })
  let farm = $state<Schemas['FarmInput']>({
    name: '',
    place: '',
    time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    units: 'metric',
    aims: [],
    experience: 'beginner',
    longitude: 9,
    latitude: 61,
  })
  const write = new Write()
  const draft = new Draft(
    'farm',
    0,
    () => farm,
    (d) => (farm = d),
  )
  const refusal = $derived(write.refusal)
  let nowhere = $state('')

  // The first field moves the farm to where it is drawn; this only saves the way there.
  function here() {
    if (!isSecureContext || !navigator.geolocation) {
      nowhere = 'The browser tells a position only over HTTPS: type it, or find the place on the map.'
      return
    }
    navigator.geolocation.getCurrentPosition(
      (p) => {
        farm.latitude = Number(p.coords.latitude.toFixed(5))
        farm.longitude = Number(p.coords.longitude.toFixed(5))
        nowhere = ''
      },
      () => (nowhere = 'No position came: type it, or find the place on the map.'),
    )
  }

  async function make(e: SubmitEvent) {
    e.preventDefault()
    let made = ''
    const went = await write.send(() => ask(api.POST('/api/farms', { body: { id: write.id(), ...farm } })), {
      then: (f) => {
        draft.done()
        made = f.id
      },
    })
    if (went) await push(`/f/${made}/land`)
  }
</script>

<main class="mx-auto max-w-3xl p-10 max-md:p-5">
  <Invitations />
  {#if me.data && !me.data.invitations.length && !me.data.farms.length}
    <p class="mb-6 rounded-2xl bg-tarn-wash p-5 text-tarn-deep" role="status">
      Are you to work on somebody's farm? Tell its owner your e-mail, <strong>{me.data.account.email}</strong>, and leave this
      page open: it notices when they ask you to join.
    </p>
  {/if}
  <div class="flex items-center gap-3">
    <img src="/mark.svg" alt="" width="40" height="28" />
    <h1>Make a farm</h1>
  </div>
  <p class="mt-2 mb-6 text-soft">Five lines about it. The land comes next: you draw it or bring it as a file.</p>
  <form class="rounded-2xl border border-line bg-surface p-6" onsubmit={make}>
    <Drafted {draft} />
    <FarmForm bind:farm {refusal} />
    <fieldset class="mt-5 grid grid-cols-[1fr_1fr_auto] items-end gap-4 max-md:grid-cols-1">
      <legend class="mb-2 text-sm font-semibold">Where the map opens</legend>
      <NumberField
        label="Latitude, degrees north"
        bind:value={() => farm.latitude, (v) => (farm.latitude = v ?? 0)}
        error={refusal?.at('latitude')}
      />
      <NumberField
        label="Longitude, degrees east"
        bind:value={() => farm.longitude, (v) => (farm.longitude = v ?? 0)}
        error={refusal?.at('longitude')}
      />
      <Button onclick={here}>Where I am now</Button>
      {#if nowhere}<p class="col-span-full text-sm text-soft" role="status">{nowhere}</p>{/if}
    </fieldset>
    <div class="mt-4"><Refused {refusal} shown={['name', 'place', 'time_zone', 'latitude', 'longitude']} /></div>
    <div class="mt-6 flex flex-wrap gap-3">
      <Button kind="main" type="submit">Make the farm</Button>
      {#if me.data?.farms.length}<Button onclick={() => void push('/')}>Back to your farms</Button>{/if}
    </div>
  </form>
</main>
