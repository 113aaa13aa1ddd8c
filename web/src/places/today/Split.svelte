<script lang="ts">
  import { newId, type Schemas } from '../../api/client'
  import { keepRecord } from '../../api/record'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import Toggle from '../../ui/Toggle.svelte'
  import { now } from '../../ui/time.svelte'
  import { number } from '../../ui/units'

  // Some of a mob go their own way, or all of it joins another: in one step, so that nobody is in two places or none.
  interface Props {
    farm: string
    mob: Schemas['MobView']
    mobs: Schemas['MobView'][]
    paddocks: Schemas['PaddockView'][]
    onclose: () => void
  }
  let { farm, mob, mobs, paddocks, onclose }: Props = $props()

  let open = $state(true)
  let way = $state<'split' | 'join'>('split')
  // svelte-ignore state_referenced_locally
  let name = $state(`${mob.name}, part`)
  let head = $state<Record<string, number | null>>({})
  let to = $state('off')
  // svelte-ignore state_referenced_locally
  let into = $state(mobs.find((m) => m.id !== mob.id)?.id ?? '')
  const write = new Write()
  const others = $derived(mobs.filter((m) => m.id !== mob.id))
  const gone = $derived(Object.values(head).reduce<number>((n, h) => n + (h ?? 0), 0))
  const all = $derived(mob.classes.reduce((n, c) => n + c.count, 0))
  $effect(() => {
    if (!open) onclose()
  })

  const half = () => (head = Object.fromEntries(mob.classes.map((c) => [c.id!, Math.floor(c.count / 2)])))
  const close = () => (open = false)
  function keep() {
    const at = now().toISOString()
    if (way === 'join') {
      const other = others.find((m) => m.id === into)!
      const body = { id: write.id('join'), into_mob_id: into, at }
      return keepRecord(write, farm, { route: 'join', mob: mob.id, body }, `${mob.name} joined ${other.name}`, close)
    }
    const body: Schemas['NewSplit'] = {
      id: write.id('split'),
      name,
      at,
      to_paddock_id: to === 'off' ? undefined : to,
      parts: mob.classes.flatMap((c) => (head[c.id!] ? [{ class_id: c.id!, head: head[c.id!]! }] : [])),
      confirmed: write.confirmed,
    }
    const where = to === 'off' ? 'off the pasture' : `to ${paddocks.find((p) => p.id === to)?.name ?? ''}`
    return keepRecord(write, farm, { route: 'split', mob: mob.id, back: newId(), body }, `${gone} ${where} as ${name}`, close)
  }
</script>

<Dialog bind:open title="{mob.name}: split or join">
  <form class="flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <div class="flex flex-wrap gap-2" role="group" aria-label="What happens">
      <Toggle on={way === 'split'} onclick={() => (way = 'split')}>Some go their own way</Toggle>
      {#if others.length}<Toggle on={way === 'join'} onclick={() => (way = 'join')}>All of them join another</Toggle>{/if}
    </div>
    {#if way === 'split'}
      {#each mob.classes as c, i (c.id)}
        <NumberField
          label="{c.name}, that go"
          unit="head"
          bind:value={() => head[c.id!] ?? null, (v) => (head = { ...head, [c.id!]: v })}
          hint="of {number(c.count, 'head', house.system)}"
          error={write.at(`parts[${i}].head`)}
        />
      {/each}
      <Button kind="quiet" onclick={half}>Half of each</Button>
      <Choice
        label="They go to"
        bind:value={to}
        options={[{ value: 'off', label: 'off the pasture, the yard' }, ...paddocks.map((p) => ({ value: p.id, label: p.name }))]}
        error={write.at('to_paddock_id')}
      />
      <TextField label="They are called" bind:value={name} error={write.at('name')} />
      <p class="text-soft" role="status">
        {number(gone, 'head', house.system)} go, {number(all - gone, 'head', house.system)} stay. They join again from here, too.
      </p>
    {:else}
      <Choice
        label="They join"
        bind:value={into}
        options={others.map((m) => ({ value: m.id, label: m.name }))}
        error={write.at('into_mob_id')}
      />
      <p class="rounded-xl bg-now-wash px-3 py-2 text-now-ink">
        All {number(all, 'head', house.system)} go over, class by class, and {mob.name} ends. What it did stays on record; to undo it,
        split them off again.
      </p>
    {/if}
    <Refused
      refusal={write.refusal}
      bind:confirmed={write.confirmed}
      shown={['to_paddock_id', 'name', 'into_mob_id', ...mob.classes.map((_, i) => `parts[${i}].head`)]}
    />
    <div class="flex flex-wrap gap-3">
      <Button kind="main" type="submit" disabled={write.busy}>{way === 'split' ? 'Split them' : 'Join them'}</Button>
      <Button onclick={close}>Cancel</Button>
    </div>
  </form>
</Dialog>
