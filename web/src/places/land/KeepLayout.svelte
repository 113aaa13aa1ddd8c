<script lang="ts">
  import type { Refusal, Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'

  interface Props {
    field: Schemas['FieldView']
    division: Schemas['DivisionView']
    mobs: Schemas['MobView'][]
    keep: (body: Omit<Schemas['AcceptDivision'], keyof Schemas['DivideInput']>) => Promise<Refusal | null>
  }
  let { field, division, mobs, keep }: Props = $props()

  let name = $state('summer')
  let names = $state<string[]>([])
  let takePieces = $state(false)
  let temporary = $state(false)
  let from = $state('')
  let until = $state('')
  let standing = $state<Record<string, string>>({})
  let refusal = $state<Refusal | null>(null)

  // Another division is another question.
  $effect(() => {
    void division
    refusal = null
  })

  const called = (i: number) => names[i] ?? division.parts[i]?.name ?? ''
  const here = $derived(mobs.filter((m) => division.mobs_standing.includes(m.id)))

  async function go(shelve: boolean) {
    const asked = division
    const refused = await keep({
      id: '',
      name,
      names: division.parts.map((_, i) => called(i)),
      take_pieces: takePieces || undefined,
      temporary: temporary || undefined,
      shelve: shelve || undefined,
      from: from || undefined,
      until: until || undefined,
      standing: from || shelve ? undefined : here.map((m) => ({ mob_id: m.id, part: Number(standing[m.id] ?? 0) })),
    })
    if (asked === division) refusal = refused // what is refused of another division is not said of this one
  }
</script>

<div class="flex flex-col gap-3 border-t border-line pt-4">
  {#if !division.whole}
    <label class="flex min-h-11 items-center gap-3"
      ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={takePieces} />Take it anyway</label
    >
  {/if}
  {#if !from}
    {#each here as m (m.id)}
      <Choice
        label="{m.name} stand in {field.name}: in which now?"
        value={standing[m.id] ?? ''}
        options={[{ value: '', label: 'choose…' }, ...division.parts.map((_, i) => ({ value: String(i + 1), label: called(i) }))]}
        onchange={(v) => (standing[m.id] = v)}
      />
    {/each}
  {/if}
  <TextField
    label="Name of this layout"
    bind:value={name}
    error={refusal?.at('name')}
    hint="Records keep pointing to the paddocks that were."
  />
  <details>
    <summary class="min-h-9 py-1 font-semibold text-tarn">Names, and the days it holds</summary>
    <div class="flex flex-col gap-3 pt-1">
      <div class="grid grid-cols-2 gap-3">
        <TextField label="From" type="date" bind:value={from} error={refusal?.at('from')} hint="Empty: today." />
        <TextField label="Until" type="date" bind:value={until} error={refusal?.at('until')} hint="Empty: on and on." />
      </div>
      <label class="flex min-h-11 items-center gap-3"
        ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={temporary} />Its fences are temporary</label
      >
      <table class="w-full text-sm">
        <tbody>
          {#each division.parts as p, i (i)}
            <tr class="border-t border-line">
              <td class="w-6 text-soft">{i + 1}</td>
              <td class="py-1 pr-2"
                ><input
                  class="w-full rounded-md border border-transparent bg-transparent px-1 py-1 font-semibold hover:border-soft focus:border-tarn"
                  aria-label="Name of paddock {i + 1}"
                  value={called(i)}
                  oninput={(e) => (names[i] = e.currentTarget.value)}
                /></td
              >
              <td class="text-right whitespace-nowrap">{withUnit(p.area_ha, 'ha', house.system)}</td>
              <td class="pl-2 text-right whitespace-nowrap text-soft" title="The square it would make"
                >{withUnit(p.square_m, 'm', house.system, 0)} □</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  </details>
  <Refused {refusal} shown={['name', 'from', 'until']} />
  <div class="flex flex-wrap gap-2">
    <Button kind="main" disabled={!division.whole && !takePieces} onclick={() => void go(false)}>Use “{name}” from today</Button>
    <Button disabled={!division.whole && !takePieces} onclick={() => void go(true)}>Save for later</Button>
  </div>
</div>
