<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, type Schemas } from '../../api/client'
  import { queries, useMe, useMembers } from '../../api/queries.svelte'
  import { signal } from '../../api/signal.svelte'
  import { press, Write } from '../../api/write.svelte'
  import { outbox } from '../../api/outbox.svelte'
  import { signOut, signOutOwed } from '../../api/leaving'
  import { forgetField } from '../../field'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Conflict from '../../ui/Conflict.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import FarmForm from './FarmForm.svelte'
  import HandOver from './HandOver.svelte'
  import Invitations from './Invitations.svelte'
  import LinkShown from './LinkShown.svelte'
  import OwnTargets from './OwnTargets.svelte'
  import Reminders from './Reminders.svelte'
  import Trail from './Trail.svelte'

  let { params }: { params: { farm: string } } = $props()

  const me = useMe()
  const members = useMembers(() => params.farm)
  type Said = Schemas['FarmInput']
  let form = $state<Said | null>(null)
  const saving = new Write()
  const people = new Write()
  const password = new Write()
  const leaving = new Write()
  let email = $state('')
  let role = $state<'owner' | 'manager' | 'hand' | 'viewer'>('hand')
  let oldPassword = $state('')
  let newPassword = $state('')
  let goodbye = $state('')

  let version = $state(0)
  $effect(() => {
    const f = house.farm
    if (f && !form) version = f.version
    if (f && !form) form = said(f)
  })

  const said = (f: Said): Said => ({
    name: f.name,
    place: f.place,
    time_zone: f.time_zone,
    units: f.units,
    aims: [...f.aims],
    experience: f.experience,
    longitude: f.longitude,
    latitude: f.latitude,
  })
  const put = async (as: Said) => {
    const path = { farm: params.farm }
    const saved = await ask(api.PUT('/api/farms/{farm}', { params: { path, header: { 'If-Match': version } }, body: as }))
    version = saved.version
  }
  const save = () => {
    const before = said(house.farm!)
    return saving.send(() => put(form!), {
      say: 'Farm saved.',
      undo: async () => {
        await put(before)
        form = before
      },
    })
  }

  const setMember = (who: string, as: '' | typeof role) =>
    people.send(
      () =>
        ask(api.POST('/api/farms/{farm}/members', { params: { path: { farm: params.farm } }, body: { email: who, role: as } })),
      { say: as ? `${who} is asked to join as ${as}.` : `${who} is off the farm.`, then: () => (email = '') },
    )

  // A link that was made, and for what; it goes when the page does.
  let made = $state.raw<{ link: Schemas['LinkView']; what: string; path: 'join' | 'password' } | null>(null)
  const linking = new Write()
  const at = $derived({ params: { path: { farm: params.farm } } })

  const joinLink = () =>
    linking.send(() => ask(api.POST('/api/farms/{farm}/links/join', { ...at, body: { role } })), {
      then: (link) =>
        (made = { link, path: 'join', what: `Whoever opens this makes an account, or signs in, and joins as ${role}.` }),
    })

  const passwordLink = (m: Schemas['MemberView']) =>
    linking.send(() => ask(api.POST('/api/farms/{farm}/links/password', { ...at, body: { email: m.email } })), {
      then: (link) =>
        (made = { link, path: 'password', what: `Hand this to ${m.name}: whoever opens it chooses their new password.` }),
    })

  const change = () =>
    password.send(() => ask(api.POST('/api/password', { body: { old_password: oldPassword, new_password: newPassword } })), {
      say: 'Password changed. Every other session is signed out.',
      then: () => (oldPassword = newPassword = ''),
    })

  async function goAway(everywhere = false) {
    await press(() => (everywhere ? ask(api.POST('/api/sign-out-everywhere')) : signOut()), {
      then: away,
      say: () => (signOutOwed() ? 'Signed out on this device. The farm hears of it when there is a signal.' : 'Signed out.'),
    })
  }

  async function leave() {
    const name = house.farm?.name
    const went = await leaving.send(() => ask(api.POST('/api/farms/{farm}/leave', { params: { path: { farm: params.farm } } })), {
      say: `You have left ${name}.`,
      then: () => (house.farm = null),
    })
    if (went) await push('/')
  }

  async function giveUp() {
    await leaving.send(() => ask(api.POST('/api/account/give-up', { body: { password: goodbye } })), { then: away })
  }

  async function away() {
    house.farm = null
    queries.clear()
    await forgetField()
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
  <div class="flex min-h-0 flex-1 max-md:flex-col max-md:overflow-y-auto">
    <div class="plain-scroll flex-1 p-6 max-md:flex-none max-md:overflow-visible max-md:p-4">
      <Invitations />
      <h1 class="mb-4">{house.farm?.name}</h1>
      {#if form}
        <section class="rounded-2xl border border-line bg-surface p-6" aria-label="About the farm">
          <FarmForm bind:farm={form} refusal={saving.refusal} />
          <div class="mt-4 flex flex-col gap-3">
            <Conflict
              stored={saving.stored}
              mine={form as unknown as Record<string, unknown>}
              labels={{
                name: 'Name',
                place: 'Place',
                time_zone: 'Time zone',
                units: 'Units',
                aims: 'Aims',
                experience: 'Experience',
              }}
              ontake={(key, value) => (form = { ...form!, [key]: value })}
              onkeep={(s) => ((version = s.version), void save())}
            />
            <Refused refusal={saving.refusal} shown={['name', 'place', 'time_zone']} />
          </div>
          {#if house.may('owner')}<div class="mt-5"><Button kind="main" onclick={save}>Save</Button></div>{/if}
        </section>
      {/if}
      <section class="mt-6 rounded-2xl border border-line bg-surface p-6" aria-label="People">
        <h2 class="mb-3">People</h2>
        <ul class="divide-y divide-line">
          {#each members.data ?? [] as m (m.user_id)}
            <li class="flex min-h-12 flex-wrap items-center gap-x-4 py-1">
              <span class="flex-1"><strong>{m.name}</strong> <span class="text-soft">{m.email}</span></span>
              <span>{m.invited ? `asked to join as ${m.role}` : m.role}</span>
              {#if house.may('owner') && m.user_id !== me.data?.account.id}
                {#if !m.invited}
                  <Button kind="quiet" onclick={() => void passwordLink(m)}>Password forgotten</Button>
                {/if}
                <Button kind="quiet" onclick={() => void setMember(m.email, '')}>{m.invited ? 'Withdraw' : 'Delete'}</Button>
              {/if}
            </li>
          {/each}
        </ul>
        {#if house.may('owner')}
          <div class="mt-4 grid grid-cols-[1fr_1fr_auto] items-end gap-3 max-md:grid-cols-1">
            <TextField label="E-mail of somebody with an account" bind:value={email} error={people.refusal?.at('email')} />
            <Choice label="As" bind:value={role} options={[...roles]} />
            <Button onclick={() => void setMember(email, role)}>Ask to join</Button>
          </div>
          <div class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
            <span class="text-soft">No account yet, or you do not know their e-mail:</span>
            <Button onclick={() => void joinLink()} disabled={linking.busy}>Make a link to join as {role}</Button>
          </div>
          <Refused refusal={linking.refusal} shown={[]} />
          {#if made}<LinkShown
              token={made.link.token}
              path={made.path}
              what="{made.what} It is good for one person, until {sayDay(new Date(made.link.ends_at))}, and is shown only now."
            />{/if}
          <div class="mt-3"><Refused refusal={people.refusal} shown={['email']} /></div>
        {/if}
      </section>
      {#if house.may('manager') && house.farm}<OwnTargets farm={params.farm} />{/if}
      {#if house.may('manager')}<HandOver farm={params.farm} />{/if}
      {#if house.may('owner')}<Trail farm={params.farm} />{/if}
    </div>
    <Shoulder label="You and this device" narrow="below">
      <h2>You</h2>
      <p>{me.data?.account.name}<br /><span class="text-soft">{me.data?.account.email}</span></p>
      <TextField
        label="Present password"
        type="password"
        bind:value={oldPassword}
        error={password.refusal?.at('old_password')}
        autocomplete="current-password"
      />
      <TextField
        label="New password"
        type="password"
        bind:value={newPassword}
        error={password.refusal?.at('new_password')}
        autocomplete="new-password"
      />
      <Button onclick={change}>Change password</Button>
      <hr class="border-line" />
      <Reminders farm={params.farm} />
      <hr class="border-line" />
      <h2>This device</h2>
      {#if signal.keepsNothing}
        <p class="rounded-xl bg-now-wash p-3 text-now-ink">
          It keeps nothing for places without a signal: {signal.keepsNothing}. What you enter is held all the same while the page
          is open.
        </p>
      {/if}
      <Choice
        label="Screen"
        value={house.light}
        options={[
          { value: 'device', label: 'as this device' },
          { value: 'light', label: 'light' },
          { value: 'dark', label: 'dark' },
        ]}
        onchange={(t) => house.setLight(t)}
      />
      <Button kind="quiet" onclick={() => (house.keysShown = true)}>Shortcuts</Button>
      <hr class="border-line" />
      {#each me.data?.farms.filter((f) => f.id !== params.farm) ?? [] as f (f.id)}
        <a class="inline-flex min-h-11 items-center font-semibold text-tarn underline underline-offset-4" href="#/f/{f.id}/today"
          >Go to {f.name}</a
        >
      {/each}
      <Button onclick={() => void push('/farms/new')}>Make another farm</Button>
      {#if outbox.own.length}
        <p class="rounded-xl bg-now-wash p-3 text-now-ink">
          {outbox.own.length === 1
            ? 'One thing you entered is not with the farm yet. It stays on this device and goes'
            : `${outbox.own.length} things you entered are not with the farm yet. They stay on this device and go`}
          when you sign in here again.
        </p>
      {/if}
      <Button onclick={() => void goAway()}>{outbox.own.length ? 'Sign out all the same' : 'Sign out'}</Button>
      <Button kind="quiet" onclick={() => void goAway(true)}>Sign out on every device</Button>
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
          error={leaving.refusal?.at('password')}
          autocomplete="current-password"
        />
        <div class="mt-3"><Button onclick={() => void giveUp()}>Give it up for good</Button></div>
      </details>
      <Refused refusal={leaving.refusal} shown={['password']} />
    </Shoulder>
  </div>
</Frame>
