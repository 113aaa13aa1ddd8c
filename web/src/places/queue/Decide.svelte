<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { takeBack } from './decisions'

  // What is tried becomes what is done: the facts it stands for are written in one step.
  interface Props {
    farm: string
    mobId: string
    levers: Schemas['Lever'][]
    ondecided: () => void
  }
  let { farm, mobId, levers, ondecided }: Props = $props()

  let reason = $state('')
  const write = new Write()

  async function decide() {
    const id = write.id()
    const of = farm
    await write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/queue/decisions', {
            params: { path: { farm } },
            body: { id, mob_id: mobId, levers: write.confirmed ? levers.map((l) => ({ ...l, anyway: true })) : levers, reason },
          }),
        ),
      { say: 'Decided, and written down.', undo: () => takeBack(of, id), then: ondecided },
    )
  }
</script>

<form class="mt-3 flex flex-col gap-3 border-t border-line pt-3" onsubmit={(e) => (e.preventDefault(), void decide())}>
  <h3>Decide</h3>
  <TextField label="Why" bind:value={reason} hint="for you, in some weeks" error={write.at('reason')} />
  <p class="text-sm text-soft">
    It is written down: what is closed, cut, fed, planned to be sold. What happens at a gate becomes a job. In some weeks it is
    held against what came.
  </p>
  <Refused refusal={write.refusal} bind:confirmed={write.confirmed} shown={['reason']} />
  <div><Button kind="main" type="submit" disabled={write.busy}>Do it</Button></div>
</form>
