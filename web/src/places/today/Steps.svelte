<script lang="ts">
  import { api, ask, newId, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import type { Snippet } from 'svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import YearDay from '../../ui/YearDay.svelte'

  // The steps of a move day in working order, as the farm has them, and the farm's own edits of them.
  interface Props {
    farm: string
    mob: Schemas['TodayMob']
    when: 'evening' | 'gate'
    ticked: Record<string, boolean>
    /** what is written down at a step, by its name */
    record?: Snippet<[string]>
  }
  let { farm, mob, when, ticked = $bindable(), record }: Props = $props()

  const steps = $derived(mob.routine.filter((s) => s.when === when))
  const write = new Write()
  let editing = $state(false)
  let words = $state('')
  let after = $state('')
  let alone = $state(false)
  let from = $state('')
  let until = $state('')

  type Edits = Schemas['RoutineEdits']
  const kept = $derived<Edits>(house.farm?.routine ?? { own: [], left_out: [] })

  function keep(edits: Edits, say: string) {
    const [was, at] = [kept, farm] // the sheet may be gone when it is undone
    const put = (body: Edits) =>
      ask(
        api.PUT('/api/farms/{farm}/routine', {
          params: { path: { farm: at }, header: { 'If-Match': house.farm!.version } },
          body,
        }),
      )
    return write.send(() => put(edits), { say, then: () => (words = ''), undo: () => put(was) })
  }
  const add = () =>
    keep(
      {
        ...kept,
        own: [
          ...kept.own,
          {
            id: newId(),
            do: words,
            when,
            mob_id: alone ? mob.mob_id : undefined,
            after: after || undefined,
            from: from || undefined,
            until: (from && until) || undefined,
          },
        ],
      },
      'Added to the list.',
    )
  const leave = (s: Schemas['RoutineStep']) =>
    s.own
      ? keep({ ...kept, own: kept.own.filter((o) => o.id !== s.id) }, 'Taken off the list.')
      : keep({ ...kept, left_out: [...kept.left_out, s.id] }, 'Left out of the list.')
</script>

<ul>
  {#each steps as s (s.id)}
    <li class="border-b border-line">
      <div class="flex items-center gap-2">
        <label class="flex min-h-12 flex-1 items-center gap-3 py-1.5"
          ><input
            type="checkbox"
            class="size-6 shrink-0 rounded border-soft text-tarn"
            bind:checked={() => ticked[s.id] ?? false, (v) => (ticked[s.id] = v)}
          /><span
            >{s.do}{#if s.why && !ticked[s.id]}<span class="block text-sm text-soft">{s.why}</span>{/if}</span
          ></label
        >
        {#if editing}
          <button
            type="button"
            class="grid size-12 place-items-center text-soft hover:text-stop"
            aria-label="Leave out: {s.do}"
            onclick={() => void leave(s)}><Icon name="close" size={20} /></button
          >
        {/if}
      </div>
      {#if s.record && record}{@render record(s.record)}{/if}
    </li>
  {/each}
</ul>
{#if house.may('manager') && !editing}
  <Button kind="quiet" onclick={() => (editing = true)}>Make this list ours</Button>
{:else if editing}
  <form class="mt-2 flex flex-col gap-2 rounded-xl border border-line p-3" onsubmit={(e) => (e.preventDefault(), void add())}>
    <TextField label="One more step" bind:value={words} error={write.refusal?.at(`own[${kept.own.length}].do`)} />
    <Choice
      label="After"
      bind:value={after}
      options={[{ value: '', label: 'first of all' }, ...steps.map((s) => ({ value: s.id, label: s.do.slice(0, 44) }))]}
    />
    <Choice
      label="Season"
      value={from ? 'part' : ''}
      options={[
        { value: '', label: 'all year' },
        { value: 'part', label: 'part of the year' },
      ]}
      onchange={(v) => ([from, until] = v ? ['04-15', '10-15'] : ['', ''])}
    />
    {#if from}
      <div class="grid grid-cols-2 gap-3">
        <YearDay label="From" bind:value={from} />
        <YearDay label="Until" bind:value={until} />
      </div>
      {#if write.refusal?.at(`own[${kept.own.length}].until`)}<p class="text-sm font-semibold text-stop" role="alert">
          {write.refusal.at(`own[${kept.own.length}].until`)}
        </p>{/if}
    {/if}
    <label class="flex min-h-12 items-center gap-2"
      ><input type="checkbox" class="size-6 rounded border-soft" bind:checked={alone} />for {mob.name} alone</label
    >
    <Refused refusal={write.refusal} shown={[`own[${kept.own.length}].do`]} />
    <div class="flex flex-wrap gap-2">
      <Button type="submit" disabled={write.busy}>Add it</Button>
      {#if kept.left_out.length}<Button
          kind="quiet"
          onclick={() => void keep({ ...kept, left_out: [] }, 'The usual steps are back.')}>Put the usual steps back</Button
        >{/if}
      <Button kind="quiet" onclick={() => (editing = false)}>Done</Button>
    </div>
  </form>
{/if}
