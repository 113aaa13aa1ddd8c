<script lang="ts">
  import { api, ask, pressed, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'

  // What was put down, kept under a name with why, to be held beside others.
  interface Props {
    farm: string
    cards: Schemas['Option'][]
    ondone: () => void
    oncancel: () => void
  }
  let { farm, cards, ondone, oncancel }: Props = $props()

  let name = $state('')
  let reason = $state('')
  const write = new Write()
  const back = (of: string, id: string) =>
    ask(api.DELETE('/api/farms/{farm}/year/scenarios/{id}', { params: { path: { farm: of, id }, header: pressed } }))
  async function keep() {
    const id = write.id()
    const of = farm
    await write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/year/scenarios', {
            params: { path: { farm } },
            body: { id, name, reason, options: cards },
          }),
        ),
      { say: 'Kept: it stands side by side with the others.', undo: () => back(of, id), then: ondone },
    )
  }
</script>

<form class="flex flex-col gap-3 rounded-xl border border-line p-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
  <TextField label="What is it called?" bind:value={name} error={write.at('name')} />
  <TextField label="Why this way?" rows={2} bind:value={reason} error={write.at('reason')} />
  <Refused refusal={write.refusal} shown={['name', 'reason']} />
  <div class="flex flex-wrap gap-2">
    <Button kind="main" type="submit" disabled={write.busy}>Keep it</Button>
    <Button kind="quiet" onclick={oncancel}>Cancel</Button>
  </div>
</form>
