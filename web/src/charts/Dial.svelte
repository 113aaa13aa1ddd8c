<script lang="ts">
  import { house } from '../ui/house.svelte'
  import { number } from '../ui/units'

  // Growth against what stock eat: an arc of ground, the part below break-even in the tones of short feed, a needle
  // where growth stands. Above, watch and act each have their own word, shape and tone.
  interface Props {
    growth: number | null
    breakEven: number | null
    most: number
    state: string
    size?: number
    label: string
  }
  let { growth, breakEven, most, state, size = 260, label }: Props = $props()

  const words: Record<string, string> = { even: 'about even', above: 'above', watch: 'watch', act: 'act' }
  const angle = (v: number) => Math.PI * (1 - Math.min(1, Math.max(0, v / most)))
  const at = (v: number, r: number) => `${(100 + r * Math.cos(angle(v))).toFixed(2)} ${(100 - r * Math.sin(angle(v))).toFixed(2)}`
  const arc = (from: number, to: number, r: number) => `M ${at(from, r)} A ${r} ${r} 0 0 1 ${at(to, r)}`
  const edge = $derived(breakEven ?? most / 2)
</script>

<svg
  viewBox="0 0 200 118"
  width={size}
  class="max-w-full"
  role="img"
  aria-label="{label}: {growth === null
    ? 'not measured yet'
    : `growth ${number(growth, 'kg_ha_day', house.system)}`}, {breakEven === null
    ? ''
    : `break-even ${number(breakEven, 'kg_ha_day', house.system)}`}: {words[state]}"
>
  <path d={arc(0, edge, 82)} fill="none" stroke="var(--feed-0)" stroke-width="22" />
  <path d={arc(edge, most, 82)} fill="none" stroke="var(--feed-3)" stroke-width="22" />
  {#if breakEven !== null}
    <path d="M {at(breakEven, 66)} L {at(breakEven, 98)}" stroke="var(--ink)" stroke-width="3" />
  {/if}
  {#if growth !== null}
    <path
      d="M {at(growth, 67)} L 97 97 L 103 103 Z"
      fill={state === 'above' || state === 'even' ? 'var(--tarn)' : state === 'watch' ? 'var(--now)' : 'var(--stop)'}
    />
    <circle cx="100" cy="100" r="7" fill="var(--ink)" />
  {/if}
  <text x="18" y="115" font-size="9" text-anchor="middle" fill="var(--soft)">0</text>
  <text x="182" y="115" font-size="9" text-anchor="middle" fill="var(--soft)">{number(most, 'kg_ha_day', house.system)}</text>
</svg>
