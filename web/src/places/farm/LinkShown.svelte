<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import { sayDay } from '../../ui/time.svelte'

  // A link that was made, to be handed on. It is shown once.
  let { link, what, path }: { link: Schemas['LinkView']; what: string; path: 'join' | 'password' } = $props()
  const href = $derived(`${location.origin}/#/${path}/${link.token}`)

  async function copy() {
    try {
      await navigator.clipboard.writeText(href)
      house.say('The link is copied.')
    } catch {
      house.say('The browser does not let it be copied: mark it and copy it by hand.')
    }
  }
</script>

<div class="mt-4 rounded-xl border-2 border-tarn p-4" role="status">
  <p>{what} It is good for one person, until {sayDay(new Date(link.ends_at))}, and is shown only now.</p>
  <p class="mt-2 rounded-lg bg-sunken p-3 break-all select-all">{href}</p>
  <div class="mt-3"><Button onclick={() => void copy()}>Copy the link</Button></div>
</div>
