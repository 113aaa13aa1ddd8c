<script lang="ts">
  import { house } from './house.svelte'
  import Icon from './Icon.svelte'
  import Working from './Working.svelte'
</script>

{#if house.working}
  <div class="flex items-start justify-between gap-2">
    <h2>{house.working.title}</h2>
    <button
      type="button"
      class="-mt-2 -mr-2 rounded p-3 text-soft hover:text-ink"
      aria-label="Close the working"
      onclick={() => (house.working = null)}
    >
      <Icon name="close" size={20} />
    </button>
  </div>
  <Working figure={house.working.figure} />
{/if}
