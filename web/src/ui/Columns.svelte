<script lang="ts">
  import Choice from './Choice.svelte'

  // Which column of a file holds what. What the heads say by themselves is chosen already.
  interface Props {
    heads: string[]
    columns: Record<string, number>
    fields: { key: string; label: string; needed?: boolean }[]
    onchange: (columns: Record<string, number>) => void
  }
  let { heads, columns, fields, onchange }: Props = $props()

  const options = $derived([
    { value: '-1', label: '– not in the file –' },
    ...heads.map((h, i) => ({ value: String(i), label: h || `column ${i + 1}` })),
  ])
</script>

<div class="grid grid-cols-3 gap-3 max-lg:grid-cols-2" role="group" aria-label="Columns of the file">
  {#each fields as f (f.key)}
    <Choice
      label="{f.label}{f.needed ? ' (needed)' : ''}"
      value={String(columns[f.key] ?? -1)}
      {options}
      onchange={(v) => onchange({ ...columns, [f.key]: Number(v) })}
    />
  {/each}
</div>
