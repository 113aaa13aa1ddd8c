<script lang="ts">
  import type { HTMLInputAttributes } from 'svelte/elements'

  interface Props {
    label: string
    value: string
    error?: string
    hint?: string
    type?: string
    autocomplete?: HTMLInputAttributes['autocomplete']
    rows?: number
    id?: string
    max?: string
  }
  let { label, value = $bindable(), error, hint, type = 'text', autocomplete = 'off', rows, id, max }: Props = $props()

  const uid = $props.id()
  const field = $derived(id ?? `t-${uid}`)
  const dress = 'w-full rounded-lg border bg-surface px-3 py-2.5 text-base text-ink focus:border-tarn focus:ring-0'
</script>

<div class="flex flex-col gap-1">
  <label for={field} class="text-sm font-semibold">{label}</label>
  {#if rows}
    <textarea id={field} {rows} class="{dress} {error ? 'border-stop' : 'border-soft'}" bind:value aria-invalid={!!error}
    ></textarea>
  {:else}
    <input
      id={field}
      {type}
      {max}
      {autocomplete}
      class="{dress} {error ? 'border-stop' : 'border-soft'}"
      bind:value
      aria-invalid={!!error}
      aria-describedby={error || hint ? `${field}-say` : undefined}
    />
  {/if}
  {#if error}<p id="{field}-say" class="text-sm font-semibold text-stop" role="alert">{error}</p>
  {:else if hint}<p id="{field}-say" class="text-sm text-soft">{hint}</p>{/if}
</div>
