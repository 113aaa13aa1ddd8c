<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Conflict from '../../ui/Conflict.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { addDays, isoDay, moment, now, sayDay } from '../../ui/time.svelte'
  import { minutesOf, wallClock } from './slots'

  type Moving = Schemas['Moving']

  let { farm }: { farm: string } = $props()

  const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
  const before = house.farm!.moving
  let hours = $state(before.minutes.map(wallClock))
  let weekdays = $state([...before.weekdays])
  let away = $state(before.away.map((a) => ({ ...a })))
  let most = $state<number | null>(before.most_moves_a_day ?? null)

  const write = new Write()
  const refusal = $derived(write.refusal)
  const draft = new Draft(
    'moving',
    house.farm!.version,
    () => ({ hours, weekdays, away, most }),
    (d) => ({ hours, weekdays, away, most = null } = d),
  )
  const body = (): Moving => ({
    minutes: hours.filter(Boolean).map(minutesOf),
    weekdays: $state.snapshot(weekdays),
    away: $state.snapshot(away),
    most_moves_a_day: most ?? 0,
  })

  const put = (version: number, as: Moving) =>
    ask(api.PUT('/api/farms/{farm}/moving', { params: { path: { farm }, header: { 'If-Match': version } }, body: as }))
  const save = () => {
    const was = house.farm!.moving
    return write.send(() => put(draft.version, body()), {
      say: 'Kept. The moves are worked out anew.',
      then: (saved) => {
        hours = saved.moving.minutes.map(wallClock)
        away = saved.moving.away.map((a) => ({ ...a }))
        draft.done()
        draft.version = saved.version
      },
      undo: (saved) => put(saved.version, was),
    })
  }
  function toggle(day: number) {
    weekdays = weekdays.includes(day) ? weekdays.filter((d) => d !== day) : [...weekdays, day]
  }
  function said(key: string, value: unknown): string {
    if (key === 'minutes') return (value as number[]).map(wallClock).join(', ')
    if (key === 'weekdays') return (value as number[]).map((d) => days[d - 1]).join(', ')
    if (key === 'most_moves_a_day') return value ? String(value) : 'any number'
    return (
      (value as Moving['away'])
        .map((a) => `${sayDay(moment(a.from_on, '12:00'))} to ${sayDay(moment(a.until_on, '12:00'))}`)
        .join('; ') || 'never'
    )
  }
  function take(key: string, value: unknown) {
    if (key === 'minutes') hours = (value as number[]).map(wallClock)
    else if (key === 'weekdays') weekdays = value as number[]
    else if (key === 'most_moves_a_day') most = (value as number) || null
    else if (key === 'away') away = value as Moving['away']
  }
  const nextWeek = () => isoDay(addDays(now(), 7))
</script>

<h2>When you move stock</h2>
<Drafted {draft} />
<form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void save())}>
  <fieldset class="flex min-w-0 flex-col gap-2">
    <legend class="text-sm font-semibold">Hours of the day</legend>
    {#each hours, k (k)}
      <div class="flex items-end gap-2">
        <div class="flex-1">
          <TextField label="At" type="time" bind:value={hours[k]!} error={refusal?.at(`minutes[${k}]`)} />
        </div>
        {#if hours.length > 1}<Button kind="quiet" onclick={() => (hours = hours.filter((_, x) => x !== k))}>Take out</Button
          >{/if}
      </div>
    {/each}
    <div><Button kind="quiet" onclick={() => (hours = [...hours, '12:00'])}>Another hour</Button></div>
  </fieldset>
  <fieldset>
    <legend class="text-sm font-semibold">Days of the week</legend>
    <div class="mt-2 flex flex-wrap gap-1.5">
      {#each days as day, i (day)}
        <button
          type="button"
          class="min-h-11 min-w-12 rounded-full border-2 px-2 {weekdays.includes(i + 1)
            ? 'border-tarn bg-tarn-wash font-semibold text-tarn-deep'
            : 'border-line bg-surface text-soft'}"
          aria-pressed={weekdays.includes(i + 1)}
          onclick={() => toggle(i + 1)}>{day}</button
        >
      {/each}
    </div>
  </fieldset>
  <NumberField
    label="Most moves on one day"
    unit="count"
    bind:value={most}
    error={write.at('most_moves_a_day')}
    hint="empty: any number. All mobs counted, as far as hands and daylight go"
  />
  <fieldset class="flex min-w-0 flex-col gap-2">
    <legend class="text-sm font-semibold">Days when nobody can move them</legend>
    <p class="text-sm text-soft">
      Before them the plan looks for ground that lasts till you are back. Somebody must still look at them.
    </p>
    {#each away as a, k (k)}
      <div class="grid grid-cols-2 gap-x-2">
        <div>
          <TextField label="First day away" type="date" bind:value={a.from_on} error={refusal?.at(`away[${k}].from_on`)} />
        </div>
        <div>
          <TextField label="Last day away" type="date" bind:value={a.until_on} error={refusal?.at(`away[${k}].until_on`)} />
        </div>
        <div><Button kind="quiet" onclick={() => (away = away.filter((_, x) => x !== k))}>Take out</Button></div>
      </div>
    {/each}
    <div>
      <Button kind="quiet" onclick={() => (away = [...away, { from_on: nextWeek(), until_on: nextWeek() }])}>Add days away</Button
      >
    </div>
  </fieldset>
  <Refused {refusal} shown={['from_on', 'until_on', 'most_moves_a_day']} />
  <Conflict
    stored={write.stored && { ...write.stored, ...(write.stored as unknown as { moving: object }).moving }}
    mine={body() as unknown as Record<string, unknown>}
    labels={{
      minutes: 'Hours of the day',
      weekdays: 'Days of the week',
      away: 'Days when nobody can move them',
      most_moves_a_day: 'Most moves on one day',
    }}
    say={said}
    ontake={take}
    onkeep={(s) => (draft.over(s), void save())}
  />
  <div><Button kind="main" type="submit" disabled={write.busy}>Keep</Button></div>
</form>
