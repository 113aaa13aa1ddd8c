<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { sayDay } from '../../ui/time.svelte'

  // The photos of a paddock's last measurement: one beside its row, all of them large when it is pressed.
  interface Props {
    farm: string
    stop: Schemas['WalkStop']
  }
  let { farm, stop }: Props = $props()

  let open = $state(false)
  let at = $state(0)
  let asking = $state(false)
  const write = new Write()
  const refusal = $derived(write.refusal)
  const photos = $derived(stop.last?.photos ?? [])
  const shown = $derived(photos[Math.min(at, photos.length - 1)])

  function turn(by: number) {
    at = (at + by + photos.length) % photos.length
    asking = false
    write.refusal = null
  }

  const takeAway = (id: string) =>
    write.send(() => ask(api.DELETE('/api/farms/{farm}/photos/{id}', { params: { path: { farm, id } } })), {
      say: 'The photo is gone.',
      then: () => {
        asking = false
        if (photos.length < 2) open = false
        at = 0
      },
    })
</script>

{#if photos.length}
  <button
    type="button"
    class="relative"
    aria-label="Photos of {stop.name}"
    onclick={() => {
      at = 0
      asking = false
      open = true
    }}
    ><img
      src="/api/farms/{farm}/photos/{photos[0]}"
      alt="Photo 1 of {stop.name}"
      loading="lazy"
      class="h-12 w-12 rounded-lg object-cover"
    />{#if photos.length > 1}<span
        class="figure absolute -right-1 -bottom-1 rounded-full bg-ink px-1.5 text-sm text-surface"
        aria-hidden="true">{photos.length}</span
      >{/if}</button
  >
  <Dialog bind:open title="{stop.name}, {sayDay(new Date(stop.last!.measured_at))}" size="lg">
    <img
      src="/api/farms/{farm}/photos/{shown}"
      alt="{stop.name}: photo {at + 1} of {photos.length}"
      class="mx-auto max-h-[58vh] rounded-xl object-contain"
    />
    <Refused {refusal} shown={[]} />
    {#if asking}
      <p class="text-lg font-semibold text-stop" role="alert">Take it away for good? It cannot be brought back.</p>
    {/if}
    {#snippet foot()}
      {#if asking}
        <Button kind="danger" onclick={() => void takeAway(shown!)}>Yes, take it away</Button>
        <Button kind="quiet" onclick={() => (asking = false)}>Keep it</Button>
      {:else}
        {#if photos.length > 1}
          <Button onclick={() => turn(-1)}>The one before</Button>
          <Button onclick={() => turn(1)}>The next</Button>
        {/if}
        {#if house.may('hand')}<Button kind="quiet" onclick={() => (asking = true)}>Take this photo away…</Button>{/if}
      {/if}
    {/snippet}
  </Dialog>
{/if}
