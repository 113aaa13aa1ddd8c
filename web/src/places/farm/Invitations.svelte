<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, type Schemas } from '../../api/client'
  import { useMe } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { sayDay } from '../../ui/time.svelte'

  // Farms that this person is asked to join. Nobody is put on a farm unasked.
  const me = useMe()
  const write = new Write()
  const refusal = $derived(write.refusal)

  async function settle(i: Schemas['InvitationView'], join: boolean) {
    const went = await write.send(
      () => ask(api.POST('/api/invitations/{farm}', { params: { path: { farm: i.farm_id } }, body: { join } })),
      { say: join ? `You are on ${i.farm_name} now.` : `${i.farm_name}: declined.` },
    )
    if (went && join) await push(`/f/${i.farm_id}/today`)
  }
</script>

{#each me.data?.invitations ?? [] as i (i.farm_id)}
  <section
    class="mb-6 flex flex-wrap items-center gap-4 rounded-2xl border-2 border-tarn bg-surface p-5"
    aria-label="You are asked to join {i.farm_name}"
  >
    <p class="min-w-[220px] flex-1 text-lg">
      <strong>{i.invited_by}</strong> asks you to join <strong>{i.farm_name}</strong> as {i.role}
      <span class="text-soft">({sayDay(new Date(i.invited_at))})</span>
    </p>
    <Button kind="main" onclick={() => void settle(i, true)}>Join {i.farm_name}</Button>
    <Button kind="quiet" onclick={() => void settle(i, false)}>Decline</Button>
  </section>
{/each}
<Refused {refusal} shown={[]} />
