<script lang="ts">
  import { house, type FigureOf } from './house.svelte'
  import { number, scale } from './units'

  interface Props {
    value: number
    unit: string
    size?: 'body' | 'large' | 'huge'
    decimals?: number
    /** give the working to make the figure open it */
    working?: FigureOf | null
    title?: string
    half?: number
  }
  let { value, unit, size = 'body', decimals, working, title = '', half }: Props = $props()

  const shown = $derived(number(value, unit, house.system, decimals))
  const symbol = $derived.by(() => {
    const s = scale(unit, house.system).symbol
    return s === 'days' && shown === '1' ? 'day' : s
  })
  const give = $derived(half === undefined ? '' : `± ${number(half, unit, house.system, decimals)}`)
  const text = { body: 'text-base', large: 'text-2xl', huge: 'text-[40px] leading-none' }
  const small = { body: 'text-sm', large: 'text-base', huge: 'text-lg' }
</script>

{#snippet body()}
  <span class="figure {text[size]}">{shown}</span>{#if give}<span class="whitespace-nowrap {small[size]} text-soft"
      >&nbsp;{give}</span
    >{/if}{#if symbol}<span class="whitespace-nowrap {small[size]} text-soft">&nbsp;{symbol}</span>{/if}
{/snippet}

{#if working}
  <button
    type="button"
    class="-mx-1 -my-1 rounded px-1 py-1 max-md:-my-3 max-md:py-3 text-left underline decoration-line decoration-2 underline-offset-4 hover:decoration-tarn"
    title="Show the working"
    aria-label="{title}: {[shown, give, symbol].filter(Boolean).join(' ')}, show the working"
    onclick={() => (house.working = { title, figure: working })}>{@render body()}</button
  >
{:else}
  <span class="inline-block">{@render body()}</span>
{/if}
