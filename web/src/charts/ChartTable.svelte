<script lang="ts">
  // The figures of a chart, for whoever reads rather than looks.
  interface Props {
    caption: string
    heads: string[]
    rows: string[][]
    /** only for whoever listens to the page */
    unseen?: boolean
  }
  let { caption, heads, rows, unseen = false }: Props = $props()
</script>

{#snippet table()}
  <table class="w-full text-sm">
    <caption class="sr-only">{caption}</caption>
    <thead class="text-left text-soft"
      ><tr
        >{#each heads as h (h)}<th scope="col" class="py-1 pr-3 font-normal">{h}</th>{/each}</tr
      ></thead
    >
    <tbody>
      {#each rows as row, i (i)}
        <tr class="border-t border-line">
          {#each row as cell, j (j)}
            {#if j}<td class="py-1 pr-3">{cell}</td>{:else}<th scope="row" class="py-1 pr-3 text-left font-semibold">{cell}</th
              >{/if}
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/snippet}

{#if unseen}<div class="no-print sr-only">{@render table()}</div>
{:else}
  <details class="no-print mt-2">
    <summary class="min-h-10 cursor-pointer py-2 text-sm font-semibold text-tarn">As a table</summary>
    {@render table()}
  </details>
{/if}
