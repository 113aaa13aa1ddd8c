<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import { queries, refresh, useMe, useMembers } from '../../api/queries.svelte'
  import { forgetField } from '../../field'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import TextField from '../../ui/TextField.svelte'
  import FarmForm from './FarmForm.svelte'
  import Invitations from './Invitations.svelte'
  import Trail from './Trail.svelte'

  let { params }: { params: { farm: string } } = $props()

  const me = useMe()
  const members = useMembers(() => params.farm)
  let form = $state<Schemas['FarmInput'] | null>(null)
  let refusal = $state<Refusal | null>(null)
  let email = $state('')
  let role = $state<'owner' | 'manager' | 'hand' | 'viewer'>('hand')
  let peopleRefusal = $state<Refusal | null>(null)
  let oldPassword = $state('')
  let newPassword = $state('')
  let passwordRefusal = $state<Refusal | null>(null)
  let goodbye = $state('')
  let leaveRefusal = $state<Refusal | null>(null)

  $effect(() => {
    const f = house.farm
    if (f && !form)
      form = {
        name: f.name,
        place: f.place,
        time_zone: f.time_zone,
        units: f.units,
        aims: [...f.aims],
        experience: f.experience,
        longitude: f.longitude,
        latitude: f.latitude,
      }
  })

  async function tried(work: () => Promise<unknown>, refuse: (r: Refusal | null) => void) {
    try {
      await work()
      refuse(null)
      await refresh()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refuse(error)
    }
  }

  const save = () =>
    tried(
      async () => {
        await ask(
          api.PUT('/api/farms/{farm}', {
            params: { path: { farm: params.farm }, header: { 'If-Match': house.farm!.version } },
            body: form!,
          }),
        )
        house.say('Farm saved.')
      },
      (r) => (refusal = r),
    )

  const setMember = (who: string, as: '' | typeof role) =>
    tried(
      () =>
        ask(api.POST('/api/farms/{farm}/members', { params: { path: { farm: params.farm } }, body: { email: who, role: as } })),
      (r) => {
        peopleRefusal = r
        if (!r) email = ''
      },
    )

  const change = () =>
    tried(
      async () => {
        await ask(api.POST('/api/password', { body: { old_password: oldPassword, new_password: newPassword } }))
        oldPassword = newPassword = ''
        house.say('Password changed. Every other session is signed out.')
      },
      (r) => (passwordRefusal = r),
    )

  async function signOut(everywhere = false) {
    await ask(everywhere ? api.POST('/api/sign-out-everywhere') : api.POST('/api/sign-out'))
    await away()
  }

  const leave = () =>
    tried(
      async () => {
        await ask(api.POST('/api/farms/{farm}/leave', { params: { path: { farm: params.farm } } }))
        house.say(`You have left ${house.farm?.name}.`)
        house.farm = null
        await push('/')
      },
      (r) => (leaveRefusal = r),
    )

  const giveUp = () =>
    tried(
      async () => {
        await ask(api.POST('/api/account/give-up', { body: { password: goodbye } }))
        await away()
      },
      (r) => (leaveRefusal = r),
    )

  async function away() {
    queries.clear()
    await forgetField()
    house.farm = null
    await push('/sign-in')
  }

  const roles = [
    { value: 'owner', label: 'owner: everything' },
    { value: 'manager', label: 'manager: land, stock, plans' },
    { value: 'hand', label: 'hand: walks and moves' },
    { value: 'viewer', label: 'viewer: looks' },
  ] as const
</script>

<Frame farm={params.farm} current="farm">
  <div class="flex min-h-0 flex-1 max-md:flex-col">
    <div class="plain-scroll flex-1 p-6">
      <Invitations />
      <h1 class="mb-4">{house.farm?.name}</h1>
      {#if form}
        <section class="rounded-2xl border border-line bg-surface p-6" aria-label="About the farm">
          <FarmForm bind:farm={form} {refusal} />
          <div class="mt-4"><Refused {refusal} shown={['name', 'place', 'time_zone']} /></div>
          {#if house.may('owner')}<div class="mt-5"><Button kind="main" onclick={save}>Save</Button></div>{/if}
        </section>
      {/if}
      <section class="mt-6 rounded-2xl border border-line bg-surface p-6" aria-label="People">
        <h2 class="mb-3">People</h2>
        <ul class="divide-y divide-line">
          {#each members.data ?? [] as m (m.user_id)}
            <li class="flex min-h-12 items-center gap-4 py-1">
              <span class="flex-1"><strong>{m.name}</strong> <span class="text-soft">{m.email}</span></span>
              <span>{m.invited ? `asked to join as ${m.role}` : m.role}</span>
              {#if house.may('owner') && m.user_id !== me.data?.account.id}
                <Button kind="quiet" onclick={() => void setMember(m.email, '')}>{m.invited ? 'Take back' : 'Take off'}</Button>
              {/if}
            </li>
          {/each}
        </ul>
        {#if house.may('owner')}
          <div class="mt-4 grid grid-cols-[1fr_1fr_auto] items-end gap-3 max-md:grid-cols-1">
            <TextField label="E-mail of somebody with an account" bind:value={email} error={peopleRefusal?.at('email')} />
            <Choice label="As" bind:value={role} options={[...roles]} />
            <Button onclick={() => void setMember(email, role)}>Ask to join</Button>
          </div>
          <div class="mt-3"><Refused refusal={peopleRefusal} shown={['email']} /></div>
        {/if}
      </section>
      {#if house.may('owner')}<Trail farm={params.farm} />{/if}
    </div>
    <Shoulder label="You and this device">
      <h2>You</h2>
      <p>{me.data?.account.name}<br /><span class="text-soft">{me.data?.account.email}</span></p>
      <TextField
        label="Present password"
        type="password"
        bind:value={oldPassword}
        error={passwordRefusal?.at('old_password')}
        autocomplete="current-password"
      />
      <TextField
        label="New password"
        type="password"
        bind:value={newPassword}
        error={passwordRefusal?.at('new_password')}
        autocomplete="new-password"
      />
      <Button onclick={change}>Change password</Button>
      <hr class="border-line" />
      <h2>This device</h2>
      <Choice
        label="Light"
        value={house.theme}
        options={[
          { value: 'light', label: 'day' },
          { value: 'dark', label: 'before dawn' },
        ]}
        onchange={(t) => house.setTheme(t)}
      />
      <Button kind="quiet" onclick={() => (house.keysShown = true)}>Keys</Button>
      <hr class="border-line" />
      {#each me.data?.farms.filter((f) => f.id !== params.farm) ?? [] as f (f.id)}
        <a class="inline-flex min-h-11 items-center font-semibold text-tarn underline underline-offset-4" href="#/f/{f.id}/today"
          >Go to {f.name}</a
        >
      {/each}
      <Button onclick={() => void push('/farms/new')}>Make another farm</Button>
      <Button onclick={() => void signOut()}>Sign out</Button>
      <Button kind="quiet" onclick={() => void signOut(true)}>Sign out on every device</Button>
      <Button kind="quiet" onclick={() => void leave()}>Leave {house.farm?.name}</Button>
      <details>
        <summary class="min-h-11 cursor-pointer py-2 text-soft">Give my account up</summary>
        <p class="mb-3">
          Your name, e-mail and password go. What you wrote down stays on the farms. A farm that is yours alone goes too, and
          cannot be brought back.
        </p>
        <TextField
          label="Password"
          type="password"
          bind:value={goodbye}
          error={leaveRefusal?.at('password')}
          autocomplete="current-password"
        />
        <div class="mt-3"><Button onclick={() => void giveUp()}>Give it up for good</Button></div>
      </details>
      <Refused refusal={leaveRefusal} shown={['password']} />
    </Shoulder>
  </div>
</Frame>
