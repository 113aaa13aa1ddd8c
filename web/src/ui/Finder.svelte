<script lang="ts">
  import { router } from 'svelte-spa-router'
  import { useSums } from '../api/queries.svelte'
  import { address } from './address'
  import Dialog from './Dialog.svelte'
  import { house } from './house.svelte'
  import { placesFor } from './places'

  const sums = useSums()
  let text = $state('')
  let at = $state(0)

  const farm = $derived(router.location.match(/^\/f\/([^/]+)/)?.[1])
  const all = $derived([
    ...(farm ? placesFor(house.farm?.role).map((p) => ({ label: p.label, note: p.question, path: `/f/${farm}/${p.key}` })) : []),
    ...(sums.data ?? []).map((s) => ({ label: s.label, note: s.question, path: `/sums/${s.key}` })),
  ])
  const found = $derived(
    all.filter((x) => (x.label + ' ' + x.note).toLowerCase().includes(text.replace(/^\//, '').trim().toLowerCase())).slice(0, 9),
  )

  $effect(() => {
    if (house.finderShown) {
      text = ''
      at = 0
    }
  })

  function open(path: string) {
    house.finderShown = false
    address.go(path)
  }

  function key(e: KeyboardEvent) {
    if (e.key === 'ArrowDown') at = Math.min(found.length - 1, at + 1)
    else if (e.key === 'ArrowUp') at = Math.max(0, at - 1)
    else if (e.key === 'Enter' && found[at]) open(found[at]!.path)
    else return
    e.preventDefault()
  }
</script>

<Dialog bind:open={house.finderShown} title="Find anything, do any sum" size="sm">
  <input
    class="w-full rounded-lg border border-soft bg-surface px-3 py-3 text-lg text-ink"
    role="combobox"
    aria-label="Find"
    aria-expanded="true"
    aria-controls="found"
    aria-autocomplete="list"
    aria-activedescendant={found[at] ? `found-${at}` : undefined}
    placeholder="strip, demand, moves…"
    bind:value={text}
    oninput={() => (at = 0)}
    onkeydown={key}
  />
  <p class="sr-only" role="status">{found.length === 1 ? 'one found' : `${found.length} found`}</p>
  <ul class="flex flex-col" id="found" role="listbox" aria-label="Found">
    {#each found as f, i (f.path)}
      <li role="option" id="found-{i}" aria-selected={i === at}>
        <button
          type="button"
          tabindex="-1"
          class="flex min-h-11 w-full items-baseline gap-3 rounded-lg px-3 py-2 text-left {i === at ? 'bg-tarn-wash' : ''}"
          onclick={() => open(f.path)}
          ><span class="font-semibold whitespace-nowrap">{f.label}</span><span class="text-sm text-soft">{f.note}</span></button
        >
      </li>
    {:else}<li class="px-3 py-2 text-soft" role="option" aria-selected="false">Nothing by that name.</li>{/each}
  </ul>
</Dialog>
