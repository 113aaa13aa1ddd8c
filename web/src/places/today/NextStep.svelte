<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Icon from '../../ui/Icon.svelte'

  // What a farm still lacks before Fjell can say where they go next, one step after the other.
  interface Props {
    farm: string
    land: Schemas['LandView']
    mobs: Schemas['TodayMob'][]
  }
  let { farm, land, mobs }: Props = $props()

  const steps = $derived([
    { name: 'land', does: 'draw a field', place: 'land', done: land.fields.length > 0 },
    { name: 'stock', does: 'make a mob', place: 'stock', done: mobs.length > 0 },
    {
      name: 'walk',
      does: 'walk the paddocks, so that nothing rests on guesses',
      place: 'walk',
      done: land.paddocks.some((p) => !p.mass.guessed),
    },
    { name: 'plan', does: 'plan the moves', place: 'moves', done: mobs.some((m) => m.next) },
  ])
  const next = $derived(steps.find((s) => !s.done))
</script>

{#if next}
  <p class="flex flex-wrap items-center gap-x-4 gap-y-1 rounded-2xl bg-tarn-wash px-4 py-2 text-tarn-deep">
    {#each steps as s (s.name)}
      <span class="flex items-center gap-1 {s.done ? '' : 'opacity-70'}"
        >{#if s.done}<Icon name="tick" size={18} /><span class="sr-only">done:</span>{/if}{s.name}</span
      >
    {/each}
    <a href="#/f/{farm}/{next.place}" class="flex min-h-12 items-center font-semibold underline underline-offset-4"
      >Next: {next.does}</a
    >
  </p>
{/if}
