<script lang="ts">
  import type { Stored } from '../api/client'
  import Button from './Button.svelte'

  // Two people changed one record. Both versions stand side by side, in words; what was typed stays until its writer says
  // which of the two is to hold, as a whole or line by line.
  interface Props {
    stored: Stored | null
    mine: Record<string, unknown>
    /** what each field is called; others are not compared */
    labels: Record<string, string>
    /** a field in words */
    say?: (key: string, value: unknown) => string
    /** takes one field as it stands at the farm */
    ontake: (key: string, value: unknown) => void
    /** keeps what is in the form over what was stored */
    onkeep: (stored: Stored) => void
  }
  let { stored, mine, labels, say = plain, ontake, onkeep }: Props = $props()

  function plain(_: string, value: unknown): string {
    if (value === null || value === undefined || value === '') return 'nothing'
    if (value === true) return 'yes'
    if (value === false) return 'no'
    return Array.isArray(value) ? value.join(', ') || 'nothing' : String(value)
  }
  const theirs = $derived(stored?.record ?? {})
  const rows = $derived(
    Object.entries(labels)
      .map(([key, label]) => ({ key, label, mine: say(key, mine[key]), theirs: say(key, theirs[key]) }))
      .filter((r) => stored?.record && r.mine !== r.theirs),
  )

  function takeAll() {
    for (const r of rows) ontake(r.key, theirs[r.key])
  }
</script>

{#if stored}
  <section class="rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink" role="alert" aria-label="Changed by somebody else">
    <p class="font-semibold">Somebody changed this while you did. Nothing of yours is lost.</p>
    {#if rows.length}
      <table class="mt-2 w-full text-[15px]">
        <thead class="text-left text-sm">
          <tr
            ><th class="font-normal"></th><th class="font-normal">Yours</th><th class="font-normal">At the farm now</th><th
            ></th></tr
          >
        </thead>
        <tbody>
          {#each rows as r (r.key)}
            <tr class="border-t border-now/40 align-top">
              <td class="py-1.5 pr-2">{r.label}</td>
              <td class="py-1.5 pr-2 font-semibold text-ink">{r.mine}</td>
              <td class="py-1.5 pr-2 text-ink">{r.theirs}</td>
              <td class="text-right"
                ><button
                  type="button"
                  class="min-h-9 font-semibold whitespace-nowrap underline underline-offset-4"
                  aria-label="Take {r.theirs} for {r.label}"
                  onclick={() => ontake(r.key, theirs[r.key])}>take it</button
                ></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <div class="mt-3 flex flex-wrap gap-3">
        <Button kind="main" onclick={() => onkeep(stored)}>Keep mine</Button>
        <Button onclick={takeAll}>Take theirs</Button>
      </div>
    {:else}
      <p>{stored.record ? 'It stands as you have it.' : 'Look whether it still is what you want, and save again.'}</p>
      <div class="mt-2"><Button kind="main" onclick={() => onkeep(stored)}>Save</Button></div>
    {/if}
  </section>
{/if}
