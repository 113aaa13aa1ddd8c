<script lang="ts">
  import { house } from './house.svelte'
  import Icon from './Icon.svelte'
  import { placesFor } from './places'

  let { farm, current }: { farm: string; current: string } = $props()
  let more = $state(false)

  const item =
    'relative flex min-h-[58px] w-full flex-col items-center justify-center gap-0.5 text-[13px] hover:text-tarn focus-visible:outline-offset-[-3px]'
  const places = $derived(placesFor(house.farm?.role))
  const phone = $derived(['today', 'walk', 'land', 'moves'].flatMap((key) => places.filter((p) => p.key === key)))
  const rest = $derived(places.filter((p) => !phone.includes(p)))
</script>

<nav
  class="no-print flex w-[72px] shrink-0 flex-col items-center border-r border-line bg-surface pt-3 max-md:hidden"
  aria-label="Places"
>
  <a href="#/" class="mb-3" title="Farms" aria-label="Fjell, your farms"><img src="/mark.svg" alt="" width="40" height="28" /></a>
  {#each places as p, i (p.key)}
    <a
      href="#/f/{farm}/{p.key}"
      class="{item} {current === p.key ? 'font-bold text-tarn' : 'text-soft'}"
      aria-current={current === p.key ? 'page' : undefined}
      title="{p.question} (key {i + 1})"
    >
      {#if current === p.key}<span class="absolute inset-y-2 left-0 w-1 rounded-r bg-now"></span>{/if}
      <Icon name={p.icon} />{p.label}
    </a>
  {/each}
  <div class="mt-auto w-full pb-2">
    <a
      href="#/f/{farm}/emergency"
      class="{item} {current === 'emergency' ? 'font-bold text-stop' : 'text-soft'}"
      aria-current={current === 'emergency' ? 'page' : undefined}
      title="Whom to call, where, what to shut first"><Icon name="help" />Help</a
    >
    <a href="#/sums" class="{item} text-soft" title="Do any sum (key /)"><Icon name="sums" />Sums</a>
    <a
      href="#/f/{farm}/farm"
      class="{item} {current === 'farm' ? 'font-bold text-tarn' : 'text-soft'}"
      title="The farm and its people"
    >
      {#if current === 'farm'}<span class="absolute inset-y-2 left-0 w-1 rounded-r bg-now"></span>{/if}
      <Icon name="farm" />Farm
    </a>
  </div>
</nav>

<nav class="no-print fixed inset-x-0 bottom-0 z-40 flex border-t border-line bg-surface md:hidden" aria-label="Places">
  {#each phone as p (p.key)}
    <a
      href="#/f/{farm}/{p.key}"
      class="{item} {current === p.key ? 'font-bold text-tarn' : 'text-soft'}"
      aria-current={current === p.key ? 'page' : undefined}><Icon name={p.icon} />{p.label}</a
    >
  {/each}
  <a
    href="#/f/{farm}/emergency"
    class="{item} {current === 'emergency' ? 'font-bold text-stop' : 'text-soft'}"
    aria-current={current === 'emergency' ? 'page' : undefined}><Icon name="help" />Help</a
  >
  <button type="button" class="{item} text-soft" aria-expanded={more} onclick={() => (more = !more)}
    ><Icon name="more" />More</button
  >
</nav>
{#if more}
  <div
    class="fixed right-2 bottom-[66px] z-40 flex w-44 flex-col rounded-xl border border-line bg-surface p-2 shadow-lg md:hidden"
  >
    {#each rest as p (p.key)}
      <a class="flex min-h-12 items-center gap-3 px-3" href="#/f/{farm}/{p.key}"><Icon name={p.icon} />{p.label}</a>
    {/each}
    <a class="flex min-h-12 items-center gap-3 px-3" href="#/sums"><Icon name="sums" />Sums</a>
    <a class="flex min-h-12 items-center gap-3 px-3" href="#/f/{farm}/farm"><Icon name="farm" />{house.farm?.name ?? 'Farm'}</a>
  </div>
{/if}
