<script lang="ts">
  import EmergencyCard, { keptCards } from '../../ui/EmergencyCard.svelte'

  const cards = keptCards()
</script>

<main class="mx-auto flex max-w-2xl flex-col gap-6 p-5">
  <div class="flex items-center justify-between gap-3">
    <h1>Emergency card</h1>
    <a href="#/sign-in" class="no-print inline-flex min-h-12 items-center font-semibold text-tarn underline underline-offset-4"
      >Back</a
    >
  </div>
  {#each cards as card (card.id)}
    {#if cards.length > 1}<h2>{card.farm}</h2>{/if}
    <EmergencyCard {card} />
  {:else}
    <p>No farm keeps its card on this phone for everybody.</p>
  {/each}
</main>
