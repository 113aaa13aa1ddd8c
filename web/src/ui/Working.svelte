<script lang="ts">
  import { house, type FigureOf } from './house.svelte'
  import { digits, withUnit } from './units'

  let { figure }: { figure: Pick<FigureOf, 'steps' | 'source'> } = $props()

  type Step = FigureOf['steps'][number]

  // The formula with each symbol's own figure in its place, in the farm's units.
  function filled(step: Step): string {
    return step.formula
      .split(' ')
      .map((part) => {
        const term = step.terms.find((t) => t.symbol === part)
        return term ? withUnit(term.value, term.unit, house.system, digits(term.value, term.unit, house.system)) : part
      })
      .join(' ')
  }
</script>

<ol class="flex flex-col gap-3">
  {#each figure.steps as step, i (i)}
    <li class="rounded-xl border border-line bg-page p-3">
      <div class="flex items-baseline justify-between gap-3">
        <span class="text-sm text-soft">{step.label}</span>
        <span class="figure text-base">{withUnit(step.value, step.unit, house.system, step.unit === '' ? 3 : undefined)}</span>
      </div>
      <div class="mt-1 text-sm text-soft">{step.formula}</div>
      {#if step.terms.length}
        <div class="text-sm">= {filled(step)}</div>
        <ul class="mt-1 text-xs text-soft">
          {#each step.terms as t, k (k)}<li>{t.symbol}: {t.name}</li>{/each}
        </ul>
      {/if}
    </li>
  {/each}
</ol>
<p class="text-sm text-soft">Shown to four digits; the sum is made with all of them.</p>
{#if figure.source}<p class="text-sm text-soft">From: {figure.source}.</p>{/if}
