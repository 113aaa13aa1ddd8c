<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'

  // What the farm loses of the feed it conserves: weighed once, or as is usual.
  let { farm, year, ondone }: { farm: string; year: Schemas['BudgetView']; ondone: () => void } = $props()

  // svelte-ignore state_referenced_locally
  const before = year.losses_own ? { cut_loss: year.cut_loss, feed_loss: year.feed_loss } : {}
  let cut = $state<number | null>(before.cut_loss ?? null)
  let feed = $state<number | null>(before.feed_loss ?? null)
  const write = new Write()
  const put = (of: string, version: number, body: Schemas['LossesInput']) =>
    ask(api.PUT('/api/farms/{farm}/losses', { params: { path: { farm: of }, header: { 'If-Match': version } }, body }))
  const keep = () => {
    const version = house.farm!.version
    const of = farm
    return write.send(() => put(of, version, { cut_loss: cut ?? undefined, feed_loss: feed ?? undefined }), {
      say: 'Kept: the year reckons with your own losses.',
      undo: () => put(of, version + 1, before),
      then: ondone,
    })
  }
</script>

<form class="mt-2 flex flex-col gap-3 rounded-xl border border-line p-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
  <NumberField
    label="Lost of a cut"
    unit="share"
    bind:value={cut}
    hint="before it is stored; bales you counted have come home, and lose nothing more"
    error={write.at('cut_loss')}
  />
  <NumberField
    label="Lost under the trough"
    unit="share"
    bind:value={feed}
    hint="of what is fed; a card of bought feed has a loss of its own"
    error={write.at('feed_loss')}
  />
  <p class="text-sm text-soft">Left empty: as is usual. Weigh what is fed and what is left for a day, and you know.</p>
  <Refused refusal={write.refusal} shown={['cut_loss', 'feed_loss']} />
  <div class="flex flex-wrap gap-2">
    <Button kind="main" type="submit" disabled={write.busy}>Keep it</Button>
    <Button kind="quiet" onclick={ondone}>Cancel</Button>
  </div>
</form>
