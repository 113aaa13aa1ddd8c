<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import { clock, sayDay } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'
  import { little, type Search } from './search.svelte'

  // How the plan was come by, and the press that looks for a better one.
  let { found, search, onlook }: { found: Schemas['SearchView'] | undefined; search: Search; onlook: () => void } = $props()

  const kg = (v: number) => withUnit(v, 'kg', house.system, 0)
  const when = $derived(found ? `${sayDay(new Date(found.found_at))} ${clock(new Date(found.found_at))}` : '')
  const most = $derived(found?.most_spare_kg ?? null)
</script>

<div class="no-print flex flex-wrap items-center gap-x-4 gap-y-1 border-y border-line bg-sunken px-5 py-1.5 max-md:px-3">
  {#if search.done !== null}
    <p class="min-w-0 flex-1" role="status">
      Looking through many plans: round {Math.min(search.done + 1, search.of)} of {search.of}{search.spared >= little
        ? `, ${kg(search.spared)} spared so far`
        : ''}.
    </p>
    <progress class="h-2 w-32 accent-tarn" max={search.of} value={search.done} aria-label="How far the search is"></progress>
    <Button kind="quiet" onclick={() => search.stop()}>{search.stopping ? 'Stopping…' : 'Stop'}</Button>
  {:else}
    <p class="min-w-0 flex-1 {found?.news ? '' : 'text-soft'}">
      {#if !found}
        Worked out one move at a time: a search through many plans may spare feed.
      {:else if found.news}
        <strong>Something is new</strong> since this plan was searched for, {when}. It is followed as far as it holds.
      {:else}
        Searched {when}{found.spared_kg >= little ? `: spares ${kg(found.spared_kg)}` : ''}.
        {#if most !== null}{most < little ? 'No plan can spare more.' : `No plan can spare more than ${kg(most)} over it.`}{/if}
      {/if}
    </p>
    {#if house.may('manager')}
      <Button kind={!found || found.news ? undefined : 'quiet'} onclick={onlook}
        >{found && !found.news ? 'Look again' : 'Look for a better plan'}</Button
      >
    {/if}
  {/if}
</div>
