<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { useMobs, useTrainings } from '../../api/queries.svelte'
  import { keepRecord } from '../../api/record'
  import { press, Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { addDays, isoDay, now } from '../../ui/time.svelte'

  // Classes of stock that do not know electric fence yet: bought lately, young, or long indoors.
  let { farm, chosen, onclose }: { farm: string; chosen: string; onclose: () => void } = $props()

  const mobs = useMobs(() => farm)
  const trainings = useTrainings(() => farm)
  const classes = $derived(
    (mobs.data ?? []).flatMap((m) => m.classes.map((c) => ({ value: c.id!, label: `${m.name}: ${c.name}`, mob: m.id }))),
  )
  let picked = $state('')
  const of = $derived(picked || (classes.find((c) => c.value === chosen || c.mob === chosen)?.value ?? classes[0]?.value ?? ''))
  let why = $state<Schemas['NewTraining']['why']>('bought')
  let ago = $state('0')
  let weeks = $state<number | null>(2)
  let open = $state(true)
  const write = new Write()
  $effect(() => {
    if (!open) onclose()
  })

  function keep() {
    const body: Schemas['NewTraining'] = {
      id: write.id(),
      class_id: of,
      why,
      since_on: isoDay(addDays(now(), -Number(ago))),
      weeks: weeks ?? 2,
    }
    return keepRecord(write, farm, { route: 'trainings', body }, 'Marked as new to electric fence', () => (open = false))
  }
  function knows(t: Schemas['TrainingView'], so: boolean) {
    const params = { path: { farm, id: t.id } }
    return ask(api.PUT('/api/farms/{farm}/trainings/{id}', { params, body: { knows: so } }))
  }
  const trained = (t: Schemas['TrainingView']) =>
    press(() => knows(t, true), { say: `${t.class_name} know the fence.`, undo: () => knows(t, false) })
</script>

<Dialog bind:open title="New to electric fence">
  <p class="text-sm text-soft">
    They learn it in a pen whose own fence holds them should they run through the wire, by day, with somebody near and the power
    off at hand; never first behind a single wire.
  </p>
  {#if trainings.data?.length}
    <ul aria-label="Marked now">
      {#each trainings.data as t (t.id)}
        <li class="flex flex-wrap items-center gap-2 border-b border-line py-1.5">
          <span class="flex-1">{t.mob_name}: <Reason reason={t.says} />.</span>
          {#if house.may('hand')}<Button label="They know it: {t.class_name}" onclick={() => void trained(t)}>They know it</Button
            >{/if}
        </li>
      {/each}
    </ul>
  {/if}
  <form class="flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <Choice label="Which" bind:value={() => of, (v) => (picked = v)} options={classes} error={write.at('class_id')} />
    <div class="grid grid-cols-3 gap-3 max-md:grid-cols-1">
      <Choice
        label="They are"
        bind:value={why}
        options={[
          { value: 'bought', label: 'newly bought' },
          { value: 'young', label: 'young, born here' },
          { value: 'other', label: 'long indoors' },
        ]}
      />
      <Choice
        label="In training since"
        bind:value={ago}
        options={[
          { value: '0', label: 'today' },
          { value: '1', label: 'yesterday' },
          { value: '3', label: 'three days ago' },
          { value: '7', label: 'a week ago' },
          { value: '14', label: 'two weeks ago' },
        ]}
        error={write.at('since_on')}
      />
      <NumberField label="Weeks of training" bind:value={weeks} error={write.at('weeks')} />
    </div>
    <Refused refusal={write.refusal} shown={['class_id', 'since_on', 'weeks']} />
    <div class="flex flex-wrap gap-3">
      <Button kind="main" type="submit" disabled={write.busy || !of}>Mark them</Button>
      <Button onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
</Dialog>
