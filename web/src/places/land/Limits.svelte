<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import TextField from '../../ui/TextField.svelte'
  import YearDay from '../../ui/YearDay.svelte'

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
</script>

<fieldset class="flex flex-col gap-2">
  <legend class="text-sm font-semibold">Limits, every year</legend>
  {#each limits as l, i (i)}
    <div class="flex flex-col gap-2 rounded-xl border border-line p-2">
      <Choice label="Limit" value={l.kind as string} options={kinds} onchange={(v) => (l.kind = v as 'hay')} />
      {#if dated(l.kind)}
        <div class="flex flex-col gap-2">
          {#each ['from', 'until'] as const as side (side)}
            <YearDay label={side} bind:value={() => l[side] ?? '', (v) => (l[side] = v)} />
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
