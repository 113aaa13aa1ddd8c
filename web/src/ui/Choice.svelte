<script lang="ts" generics="T extends string">
  interface Props {
    label: string
    value: T
    options: { value: T; label: string; group?: string }[]
    error?: string
    hint?: string
    onchange?: (value: T) => void
  }
  let { label, value = $bindable(), options, error, hint, onchange }: Props = $props()

  const uid = $props.id()
  const groups = $derived([...new Set(options.map((o) => o.group ?? ''))])
</script>

<div class="flex flex-col gap-1">
  <label for={uid} class="text-sm font-semibold">{label}</label>
  <select
    id={uid}
    bind:value
    onchange={() => onchange?.(value)}
    class="w-full rounded-lg border bg-surface px-3 py-2.5 text-base text-ink focus:border-tarn focus:ring-0 {error
      ? 'border-stop'
      : 'border-soft'}"
  >
    {#each groups as g (g)}
      {#if g}
        <optgroup label={g}>
          {#each options.filter((o) => o.group === g) as o (o.value)}<option value={o.value}>{o.label}</option>{/each}
        </optgroup>
      {:else}
        {#each options.filter((o) => !o.group) as o (o.value)}<option value={o.value}>{o.label}</option>{/each}
      {/if}
    {/each}
  </select>
  {#if error}<p class="text-sm font-semibold text-stop" role="alert">{error}</p>
  {:else if hint}<p class="text-sm text-soft">{hint}</p>{/if}
</div>
