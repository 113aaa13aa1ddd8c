<script lang="ts">
  import { house } from './house.svelte'
  import { editable, scale, stored } from './units'

  interface Props {
    label: string
    unit?: string
    value: number | null
    error?: string
    hint?: string
    id?: string
    compact?: boolean
    onchange?: () => void
  }
  let { label, unit = '', value = $bindable(), error, hint, id, compact = false, onchange }: Props = $props()

  const uid = $props.id()
  const field = $derived(id ?? `n-${uid}`)
  const symbol = $derived(scale(unit, house.system).symbol)
  let typed = $state('')
  let focused = $state(false)

  $effect(() => {
    if (!focused) typed = value === null ? '' : editable(value, unit, house.system)
  })

  function read(text: string) {
    typed = text
    const plain = text.replace(/[\s\u00a0]/g, '').replace(',', '.')
    value = plain === '' || Number.isNaN(Number(plain)) ? null : stored(Number(plain), unit, house.system)
    onchange?.()
  }
</script>

<div class="flex min-w-0 flex-col gap-1">
  <label for={field} class="text-sm font-semibold">{label}</label>
  <div class="flex items-center rounded-lg border bg-surface focus-within:border-tarn {error ? 'border-stop' : 'border-soft'}">
    <input
      id={field}
      class="min-w-0 flex-1 rounded-lg border-0 bg-transparent px-3 {compact
        ? 'py-1.5'
        : 'py-2.5'} text-base font-semibold text-ink focus:ring-0"
      inputmode="decimal"
      autocomplete="off"
      value={typed}
      aria-invalid={!!error}
      aria-describedby={error || hint ? `${field}-say` : undefined}
      oninput={(e) => read(e.currentTarget.value)}
      onfocus={() => (focused = true)}
      onblur={() => (focused = false)}
    />
    {#if symbol}<span class="pr-3 text-sm whitespace-nowrap text-soft">{symbol}</span>{/if}
  </div>
  {#if error}<p id="{field}-say" class="text-sm font-semibold text-stop" role="alert">{error}</p>
  {:else if hint}<p id="{field}-say" class="text-sm text-soft">{hint}</p>{/if}
</div>
