<script lang="ts">
  import Button from '../../ui/Button.svelte'
  import EmergencyCard from '../../ui/EmergencyCard.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import { phone } from '../../ui/media.svelte'
  import Panel from '../../ui/Panel.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import EmergencyForm from './EmergencyForm.svelte'

  let { params }: { params: { farm: string } } = $props()
  let editing = $state(false)
</script>

<Frame farm={params.farm} current="emergency">
  {#if house.farm}
    {@const f = house.farm}
    <div class="flex min-h-0 flex-1 max-md:flex-col">
      {#if !(editing && phone.current)}
        <div class="plain-scroll min-h-0 flex-1 p-5 max-md:p-4">
          <div class="mx-auto flex max-w-2xl flex-col gap-5">
            <div class="flex items-baseline justify-between gap-3">
              <h1>Emergency card</h1>
              {#if house.may('manager')}<Button kind="quiet" onclick={() => (editing = !editing)}>Write it</Button>{/if}
            </div>
            <EmergencyCard
              card={{
                id: f.id,
                farm: f.name,
                place: f.place,
                longitude: f.longitude,
                latitude: f.latitude,
                emergency: f.emergency,
              }}
            />
          </div>
        </div>
      {/if}
      {#if editing}
        <Shoulder label="Emergency card" narrow="fill">
          <Panel onclose={() => (editing = false)}><EmergencyForm farm={params.farm} onclose={() => (editing = false)} /></Panel>
        </Shoulder>
      {/if}
    </div>
  {/if}
</Frame>
