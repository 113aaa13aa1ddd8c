<script lang="ts">
  import { router } from 'svelte-spa-router'
  import { address } from './address'
  import Dialog from './Dialog.svelte'
  import Finder from './Finder.svelte'
  import { house } from './house.svelte'
  import { placesFor } from './places'

  const places = $derived(placesFor(house.farm?.role))
  const map = $derived([
    ...places.map((p, i) => [String(i + 1), p.label] as const),
    ['/', 'Find anything, do any sum'],
    ['M', 'Move now'],
    ['W', 'Walk'],
    ['D', 'Divide'],
    ['Ctrl+Z', 'Undo'],
    ['Ctrl+Shift+Z', 'Do it again (Land)'],
    ['F C S T X L', 'On Land: draw a field, corners, split, table, things, measure'],
    ['N P', 'On Land, with corners: next and previous; arrows move one by a metre, Delete takes it out'],
    ['← →', 'Read a day on the ridge; nudge a chosen stay by half a day'],
    ['Shift + ← →', 'A week on the ridge; a whole day for a move'],
    ['↑ ↓', 'Another paddock for a chosen move'],
    ['?', 'This list'],
  ] as const)

  function typing(target: EventTarget | null): boolean {
    return target instanceof Element && !!target.closest('input, textarea, select, [contenteditable], [data-keypad], dialog')
  }

  function pressed(e: KeyboardEvent) {
    if (!house.keysOn || typing(e.target) || e.altKey || document.querySelector('[data-keypad]')) return
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z') {
      e.preventDefault()
      void (e.shiftKey ? house.doAgain() : house.takeBack())
      return
    }
    if (e.ctrlKey || e.metaKey) return
    const farm = router.location.match(/^\/f\/([^/]+)/)?.[1]
    const go = (path: string) => {
      e.preventDefault()
      address.go(path)
    }
    if (e.key === '?') {
      e.preventDefault()
      house.keysShown = true
    } else if (e.key === '/') {
      e.preventDefault()
      house.finderShown = true
    } else if (farm) {
      const k = e.key.toLowerCase()
      const place = places[Number(k) - 1]
      if (place) go(`/f/${farm}/${place.key}`)
      else if (k === 'w') go(`/f/${farm}/walk`)
      else if (k === 'd') go(`/f/${farm}/land?do=divide`)
      else if (k === 'm') go(`/f/${farm}/today?do=move`)
    }
  }
</script>

<svelte:window onkeydown={pressed} />

<Dialog bind:open={house.keysShown} title="Shortcuts" size="sm">
  <dl class="grid grid-cols-[auto_1fr] items-baseline gap-x-5 gap-y-2">
    {#each map as [key, what] (key)}
      <dt><kbd class="rounded-md border border-soft bg-page px-2 py-0.5 font-semibold whitespace-nowrap">{key}</kbd></dt>
      <dd>{what}</dd>
    {/each}
  </dl>
  <label class="flex min-h-11 items-center gap-3">
    <input
      type="checkbox"
      class="size-5 rounded border-soft"
      checked={house.keysOn}
      onchange={(e) => house.setKeys(e.currentTarget.checked)}
    />
    Keys are on. They are silent inside fields and the keypad.
  </label>
</Dialog>

<Finder />
