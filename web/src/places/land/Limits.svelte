<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import TextField from '../../ui/TextField.svelte'

  let { limits = $bindable() }: { limits: Schemas['PaddockLimit'][] } = $props()

  const kinds = [
    { value: 'hay', label: 'closed for hay' },
    { value: 'nesting', label: 'nesting birds' },
    { value: 'closed', label: 'closed' },
    { value: 'not_wet', label: 'not when it is wet' },
    { value: 'no_water_in_frost', label: 'no water in frost' },
    { value: 'sheep_only', label: 'sheep only' },
  ]
  const dated = (kind: string) => ['hay', 'nesting', 'closed'].includes(kind)

  // The year in a date field does not count: limits come back every year.
  const shown = (day?: string) => (day ? `2026-${day}` : '')
</script>

<fieldset class="flex flex-col gap-2">
  <legend class="text-sm font-semibold">Limits, every year</legend>
  {#each limits as l, i (i)}
    <div class="flex flex-col gap-2 rounded-xl border border-line p-2">
      <Choice label="Limit" value={l.kind as string} options={kinds} onchange={(v) => (l.kind = v as 'hay')} />
      {#if dated(l.kind)}
        <div class="grid grid-cols-2 gap-2">
          {#each ['from', 'until'] as const as side (side)}
            <label class="flex flex-col gap-1 text-sm font-semibold"
              >{side}
              <input
                type="date"
                class="rounded-lg border border-soft bg-surface px-2 py-2 text-sm font-normal"
                value={shown(l[side])}
                onchange={(e) => (l[side] = e.currentTarget.value.slice(5))}
              /></label
            >
          {/each}
        </div>
      {/if}
      <TextField label="In your words" bind:value={() => l.note ?? '', (v) => (l.note = v)} />
      <div><Button kind="quiet" onclick={() => limits.splice(i, 1)}>Take it out</Button></div>
    </div>
  {/each}
  <div>
    <Button kind="quiet" onclick={() => limits.push({ kind: 'nesting', from: '04-15', until: '07-01' })}>Add a limit</Button>
  </div>
</fieldset>
