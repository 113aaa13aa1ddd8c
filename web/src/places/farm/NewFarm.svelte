<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh, useMe } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import Refused from '../../ui/Refused.svelte'
  import FarmForm from './FarmForm.svelte'

  const me = useMe()
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
  let refusal = $state<Refusal | null>(null)
  const id = newId()

  async function make(e: SubmitEvent) {
    e.preventDefault()
    try {
      const made = await ask(api.POST('/api/farms', { body: { id, ...farm } }))
      await refresh()
      await push(`/f/${made.id}/land`)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
      if (error.status === 401) await push('/sign-in')
    }
  }
</script>

<main class="mx-auto max-w-3xl p-10 max-md:p-5">
  <div class="flex items-center gap-3">
    <img src="/mark.svg" alt="" width="40" height="28" />
    <h1>Make a farm</h1>
  </div>
  <p class="mt-2 mb-6 text-soft">Five lines about it. The land comes next: you draw it or bring it as a file.</p>
  <form class="rounded-2xl border border-line bg-surface p-6" onsubmit={make}>
    <FarmForm bind:farm {refusal} />
    <div class="mt-4"><Refused {refusal} shown={['name', 'place', 'time_zone']} /></div>
    <div class="mt-6 flex flex-wrap gap-3">
      <Button kind="main" type="submit">Make the farm</Button>
      {#if me.data?.farms.length}<Button onclick={() => void push('/')}>Back to your farms</Button>{/if}
    </div>
  </form>
</main>
