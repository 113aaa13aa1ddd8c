<script lang="ts">
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'

  // A link that was made, to be handed on. It is shown once.
  let { token, what, path }: { token: string; what: string; path: 'join' | 'password' | 'handover' } = $props()
  const href = $derived(`${location.origin}/#/${path}/${token}`)

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
  <p>{what}</p>
  <p class="mt-2 rounded-lg bg-sunken p-3 break-all select-all">{href}</p>
  <div class="mt-3"><Button onclick={() => void copy()}>Copy the link</Button></div>
</div>
