<script lang="ts">
  import { house } from './house.svelte'
  import { editable, grouped, readNumber, scale, stored } from './units'

  interface Props {
    label: string
    unit?: string
    value: number | null
    error?: string
    hint?: string
    id?: string
    compact?: boolean
    /** the figure is of an example, until it is typed over */
    example?: boolean
    onchange?: () => void
  }
  let { label, unit = '', value = $bindable(), error, hint, id, compact = false, example = false, onchange }: Props = $props()

  const uid = $props.id()
  const field = $derived(id ?? `n-${uid}`)
  const symbol = $derived(scale(unit, house.system).symbol)
  let typed = $state('')
  let focused = $state(false)

  $effect(() => {
    if (!focused) typed = value === null ? '' : editable(value, unit, house.system)
  })

  let or = $state<number | undefined>(undefined)
  let wrong = $state('')
  const shown = $derived(error ?? (wrong ? `“${wrong}” is not a number.` : undefined))

  function read(text: string) {
    typed = text
    const found = readNumber(text)
    or = found.or
    wrong = found.wrong ? text.trim() : ''
    take(found.value)
  }

  function take(number: number | null) {
    value = number === null ? null : stored(number, unit, house.system)
    onchange?.()
  }

  function other() {
    const meant = or!
    or = undefined
    typed = String(meant)
    take(meant)
  }
</script>

<div class="flex min-w-0 flex-col gap-1">
  <label for={field} class="text-sm font-semibold">{label}</label>
  <div class="flex items-center rounded-lg border bg-surface focus-within:border-tarn {shown ? 'border-stop' : 'border-soft'}">
    <input
      id={field}
      class="min-w-0 flex-1 rounded-lg border-0 bg-transparent px-3 {compact
        ? 'py-1.5'
        : 'py-2.5'} max-md:min-h-12 text-base focus:ring-0 {example ? 'text-soft italic' : 'font-semibold text-ink'}"
      inputmode="decimal"
      autocomplete="off"
      value={typed}
      aria-invalid={!!shown}
      aria-describedby={shown || hint ? `${field}-say` : undefined}
      oninput={(e) => read(e.currentTarget.value)}
      onfocus={() => (focused = true)}
      onblur={() => (focused = false)}
    />
    {#if symbol}<span class="pr-3 text-sm whitespace-nowrap text-soft">{symbol}</span>{/if}
  </div>
  {#if or !== undefined}
    <p class="text-sm" role="status">
      Read as <strong>{grouped(value === null ? 0 : (readNumber(typed).value ?? 0), 0)}</strong>.
      <button type="button" class="min-h-9 font-semibold text-tarn underline underline-offset-4" onclick={other}
        >It is {or}</button
      >
    </p>
  {/if}
  {#if shown}<p id="{field}-say" class="text-sm font-semibold text-stop" role="alert">{shown}</p>
  {:else if hint}<p id="{field}-say" class="text-sm text-soft">{hint}</p>{/if}
</div>
