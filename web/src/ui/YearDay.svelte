<script lang="ts">
  // A day that comes back every year, as month and day: 06-20. Empty until both are chosen.
  interface Props {
    label: string
    value: string
    error?: string
  }
  let { label, value = $bindable(), error }: Props = $props()

  const uid = $props.id()
  const months = Array.from({ length: 12 }, (_, i) =>
    new Date(Date.UTC(2026, i, 1)).toLocaleString('en-GB', { month: 'long', timeZone: 'UTC' }),
  )
  const two = (n: number) => String(n).padStart(2, '0')
  const month = $derived(value.slice(0, 2))
  const day = $derived(value.slice(3, 5))
  /** The last day of a month in a year that has them all. */
  const last = (m: string) => new Date(Date.UTC(2024, Number(m || '01'), 0)).getUTCDate()
  const set = (m: string, d: string) => (value = `${m || '01'}-${two(Math.min(Number(d) || 1, last(m)))}`)
  const dress = $derived(
    `rounded-lg border bg-surface py-2.5 pr-7 pl-2 text-base text-ink focus:border-tarn focus:ring-0 ${error ? 'border-stop' : 'border-soft'}`,
  )
</script>

<div role="group" aria-labelledby={uid}>
  <div class="flex items-center gap-2">
    <span id={uid} class="w-24 shrink-0 text-sm font-semibold">{label}</span>
    <select class={dress} aria-label="{label}: day" value={day} onchange={(e) => set(month, e.currentTarget.value)}>
      {#if !day}<option value=""></option>{/if}
      {#each { length: last(month) }, i}<option value={two(i + 1)}>{i + 1}</option>{/each}
    </select>
    <select
      class="{dress} min-w-0 flex-1"
      aria-label="{label}: month"
      value={month}
      onchange={(e) => set(e.currentTarget.value, day)}
    >
      {#if !month}<option value=""></option>{/if}
      {#each months as m, i (m)}<option value={two(i + 1)}>{m}</option>{/each}
    </select>
  </div>
  {#if error}<p class="mt-1 text-sm font-semibold text-stop" role="alert">{error}</p>{/if}
</div>
