<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'

  let { farm, mobs }: { farm: string; mobs: Schemas['MobView'][] } = $props()

  const options = $derived(mobs.flatMap((m) => m.classes.map((c) => ({ value: c.id ?? '', label: c.name, group: m.name }))))
  let first = $state('')
  let second = $state('')
  let result = $state<Schemas['EquivalenceView'] | null>(null)
  const a = $derived(first || options[0]?.value || '')
  const b = $derived(second || options.find((o) => o.group !== options[0]?.group)?.value || options[1]?.value || '')

  $effect(() => {
    if (!a || !b) return
    ask(api.GET('/api/farms/{farm}/stock/equivalence', { params: { path: { farm }, query: { first: a, second: b } } }))
      .then((v) => (result = v))
      .catch((error: unknown) => {
        if (!(error instanceof Refusal)) throw error
        result = null
      })
  })
</script>

{#if options.length > 1}
  <section class="rounded-2xl border border-line bg-surface p-5" aria-label="One animal for another">
    <h2>How many of those graze as one of these?</h2>
    <div class="mt-2 grid grid-cols-2 gap-3">
      <Choice label="One of" value={a} {options} onchange={(v) => (first = v)} />
      <Choice label="How many of" value={b} {options} onchange={(v) => (second = v)} />
    </div>
    {#if result}
      <p class="mt-3">
        <Figure
          value={result.figure.value}
          unit="ratio"
          size="huge"
          decimals={1}
          working={result.figure}
          title="How many for one"
        />
      </p>
      <p>{result.sentence}</p>
      <p class="text-sm text-soft">By what must grow for each: intake over the share of growth the species gets hold of.</p>
    {/if}
  </section>
{/if}
