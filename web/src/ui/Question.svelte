<script lang="ts">
  import Button from './Button.svelte'
  import Dialog from './Dialog.svelte'
  import { house } from './house.svelte'

  // What must be said yes or no to before it goes on; closing it is no.
</script>

{#if house.question}
  {@const asked = house.question}
  <Dialog bind:open={() => true, (open) => open || asked.answer(false)} title="Is that meant?" size="sm">
    <p>{asked.text}</p>
    {#snippet foot()}
      <Button onclick={() => asked.answer(false)}>No, leave it</Button>
      <Button kind="main" onclick={() => asked.answer(true)}>Yes</Button>
    {/snippet}
  </Dialog>
{/if}
