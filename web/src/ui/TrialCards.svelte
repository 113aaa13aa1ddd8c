<script lang="ts" generics="Card extends { anyway?: boolean }">
  import type { Snippet } from 'svelte'
  import type { Trial } from '../api/trial.svelte'
  import Button from './Button.svelte'
  import Icon from './Icon.svelte'

  // The cards of a trial: each switched off and on, and taken back; why they cannot be worked out stands below.
  interface Props {
    trial: Trial<Card, unknown>
    name: (card: Card) => string
    /** what comes of a card */
    of: Snippet<[Card]>
    /** what to mind about it */
    mind?: (card: Card) => string | undefined
  }
  let { trial, name, of, mind }: Props = $props()
</script>

{#if trial.cards.length}
  <ul aria-label="What is tried" class="flex flex-col">
    {#each trial.cards as c (c)}
      <li class="flex flex-wrap items-start gap-x-2 border-b border-line py-1.5">
        <label class="flex min-h-12 min-w-0 flex-1 items-center gap-3"
          ><input
            type="checkbox"
            class="size-6 shrink-0 rounded border-soft text-tarn"
            checked={!trial.off.includes(c)}
            onchange={() => trial.toggle(c)}
          /><span
            >{name(c)}
            {@render of(c)}</span
          ></label
        >
        <button
          type="button"
          class="grid size-12 place-items-center text-soft hover:text-stop"
          aria-label="Take back: {name(c)}"
          onclick={() => trial.drop(c)}><Icon name="close" size={20} /></button
        >
        {#if mind?.(c)}<p class="mb-1 w-full rounded-xl bg-now-wash px-3 py-2 text-sm text-now-ink">{mind(c)}</p>{/if}
      </li>
    {/each}
  </ul>
{/if}
{#if trial.refusal}
  {@const r = trial.refusal}
  <div class="rounded-xl bg-now-wash p-3 text-now-ink" role="alert">
    {#each r.fields.length ? r.fields : [{ message: r.message }] as f, i (i)}<p>{f.message}</p>{/each}
    {#if r.unusual}<div class="mt-2"><Button onclick={() => trial.anyway()}>Try it anyway</Button></div>{/if}
  </div>
{:else if trial.silent}
  <p class="rounded-xl bg-now-wash p-3 text-now-ink" role="status">No signal: what would come of it is worked out at the farm.</p>
{/if}
