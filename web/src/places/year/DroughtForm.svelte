<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'

  // What is done when growth lags: the trigger, who leaves in which order and where to, and where stock stand when it is too wet.
  interface Props {
    farm: string
    drought: Schemas['DroughtView']
    ondone: () => void
  }
  let { farm, drought, ondone }: Props = $props()

  // svelte-ignore state_referenced_locally
  const before = $state.snapshot(drought)
  let trigger = $state<number | null>(before.trigger)
  let order = $state(before.order.map((l) => ({ group: l.group, most: l.most_share as number | null, where: l.where })))
  let wet = $state(before.wet)
  const write = new Write()
  function up(i: number) {
    const next = [...order]
    const moved = next.splice(i, 1)[0]!
    next.splice(i - 1, 0, moved)
    order = next
  }
  const put = (version: number, body: Schemas['DroughtInput']) =>
    ask(api.PUT('/api/farms/{farm}/drought', { params: { path: { farm }, header: { 'If-Match': version } }, body }))
  const keep = () => {
    const version = house.farm!.version
    return write.send(
      () =>
        put(version, {
          trigger: trigger ?? 0,
          leave: order.map((l) => ({ group: l.group, most_share: l.most ?? 0, where: l.where })),
          wet,
        }),
      {
        say: 'Kept: when growth lags it is decided what is done.',
        undo: before.own
          ? () =>
              put(version + 1, {
                trigger: before.trigger,
                leave: before.order.map((l) => ({ group: l.group, most_share: l.most_share, where: l.where })),
                wet: before.wet,
              })
          : undefined,
        then: ondone,
      },
    )
  }
</script>

<form class="mt-2 flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
  <div class="w-56">
    <NumberField
      label="Stock leave below"
      unit="share"
      bind:value={trigger}
      hint="of what should have grown"
      error={write.at('trigger')}
    />
  </div>
  <ol class="flex flex-col gap-3" aria-label="Who leaves first">
    {#each order as l, i (l.group)}
      <li class="flex flex-wrap items-end gap-3 border-t border-line pt-2">
        <span class="w-full font-semibold">{i + 1}. {l.group}</span>
        <div class="w-28"><NumberField compact label="At most" unit="share" bind:value={l.most} /></div>
        <div class="min-w-40 flex-1"><TextField label="Where to" bind:value={l.where} /></div>
        <button
          type="button"
          class="grid size-12 place-items-center rounded-lg text-tarn hover:bg-tarn-wash disabled:text-line"
          aria-label="Earlier: {l.group}"
          disabled={i === 0}
          onclick={() => up(i)}><Icon name="up" size={22} /></button
        >
      </li>
    {/each}
  </ol>
  <TextField label="When it is too wet: where stock stand, and who is called" rows={2} bind:value={wet} error={write.at('wet')} />
  <Refused refusal={write.refusal} shown={['trigger', 'wet']} />
  <div class="flex flex-wrap gap-2">
    <Button kind="main" type="submit" disabled={write.busy}>Keep it</Button>
    <Button kind="quiet" onclick={ondone}>Cancel</Button>
  </div>
</form>
