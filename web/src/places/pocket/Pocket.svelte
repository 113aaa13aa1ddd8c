<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { useSums } from '../../api/queries.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Loading from '../../ui/Loading.svelte'
  import SumForm from './SumForm.svelte'

  let { params }: { params?: { sum?: string | null } } = $props()

  const sums = useSums()
  const key = $derived(params?.sum ?? 'demand')
  const sum = $derived(sums.data?.find((s) => s.key === key))
  let units = $state<'metric' | 'imperial'>(house.system)
  const back = $derived(house.farm ? `#/f/${house.farm.id}/today` : '#/sign-in')

  // Without a farm the sums keep their own units.
  $effect(() => {
    if (!house.farm) house.loose = units
  })
</script>

<div class="flex h-full max-md:flex-col">
  <nav
    class="plain-scroll flex w-[270px] shrink-0 flex-col border-r border-line bg-surface p-4 max-md:w-full max-md:border-r-0"
    aria-label="Pocket sums"
  >
    <a href={back} class="flex min-h-12 items-center gap-2 font-semibold text-tarn"
      ><Icon name="back" size={20} />{house.farm?.name ?? 'Sign in'}</a
    >
    <p class="mt-2 mb-3 px-2 text-[26px] leading-tight font-bold max-md:sr-only">Pocket sums</p>
    {#if sums.data}
      <div class="md:hidden">
        <Choice
          label="Sum"
          value={key}
          options={sums.data.map((s) => ({ value: s.key, label: s.label }))}
          onchange={(k) => void push(`/sums/${k}`)}
        />
      </div>
      <ul class="max-md:hidden">
        {#each sums.data as s (s.key)}
          <li>
            <a
              href="#/sums/{s.key}"
              class="flex min-h-9 items-center rounded-lg px-2 {s.key === key
                ? 'bg-tarn-wash font-bold text-tarn-deep'
                : 'text-ink hover:bg-page'}"
              aria-current={s.key === key ? 'page' : undefined}>{s.label}</a
            >
          </li>
        {/each}
      </ul>
    {/if}
    {#if !house.farm}
      <div class="mt-4 px-2">
        <Choice
          label="Units"
          bind:value={units}
          options={[
            { value: 'metric', label: 'kilograms, hectares' },
            { value: 'imperial', label: 'pounds, acres' },
          ]}
        />
      </div>
    {/if}
  </nav>
  <main class="plain-scroll min-w-0 flex-1">
    {#if sum && sums.data}
      {#key sum.key + house.system}<SumForm {sum} all={sums.data} />{/key}
    {:else if sums.data}
      <p class="p-10">There is no such sum.</p>
    {:else}
      <Loading error={sums.error} what="the sums" />
    {/if}
  </main>
</div>
