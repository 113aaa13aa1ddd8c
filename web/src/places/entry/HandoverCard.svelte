<script lang="ts">
  import { createQuery } from '@tanstack/svelte-query'
  import { api, ask } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import EmergencyCard from '../../ui/EmergencyCard.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { sayDay, sayMoment, setClock } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Verdict from '../../ui/Verdict.svelte'

  // What somebody needs who takes over for some days: where, when, how, what is normal, whom to call. It prints.
  let { params }: { params: { token: string } } = $props()

  const card = createQuery(() => ({
    queryKey: ['handover', params.token],
    queryFn: async () => {
      const c = await ask(api.GET('/api/handovers/{token}', { params: { path: { token: params.token } } }))
      house.loose = c.units === 'imperial' ? 'imperial' : 'metric'
      setClock(c.now, c.held, c.time_zone)
      return c
    },
    retry: false,
    refetchInterval: 300_000,
  }))
  const day = (d: string) => sayDay(new Date(d + 'T12:00'))
</script>

<main class="mx-auto flex max-w-3xl flex-col gap-6 p-6 max-md:p-4">
  {#if card.data}
    {@const c = card.data}
    <header class="flex flex-wrap items-baseline justify-between gap-3">
      <div>
        <h1>{c.farm}, for {c.whom}</h1>
        <p class="text-soft">
          {day(c.from_on)} to {day(c.last_on)}. Made by {c.by}; the moves follow the plan as it is now, {sayMoment(
            new Date(c.now),
          )}.
        </p>
      </div>
      <span class="no-print"><Button onclick={() => print()}>Print it</Button></span>
    </header>
    {#if c.normal}
      <section>
        <h2>What is normal</h2>
        <p class="text-lg whitespace-pre-line">{c.normal}</p>
      </section>
    {/if}
    {#each c.mobs as m (m.name)}
      <section class="rounded-2xl border border-line bg-surface p-5" aria-label={m.name}>
        <h2 class="flex items-center gap-3">
          <Glyph glyph={m.glyph} letter={m.letter} size={30} />{m.name}
          <span class="font-normal text-soft">{number(m.head, 'head', house.system)} head</span>
        </h2>
        <p class="text-lg">{m.paddock_name ? `They stand in ${m.paddock_name}.` : 'They are off the pasture.'}</p>
        {#each m.withheld as w (w.product + w.until_on)}<p class="font-semibold text-stop">
            Withheld until {day(w.until_on)}: {w.product}{w.tags ? `, ${w.tags}` : ''}
          </p>{/each}
        {#if m.moves.length}
          <ol class="my-2">
            {#each m.moves as mv (mv.at)}
              <li class="flex flex-wrap items-center gap-x-3 border-b border-line py-1.5">
                <strong class="w-52">{sayMoment(new Date(mv.at))}</strong>
                <span class="flex items-center gap-2 text-lg"><Verdict state={mv.state} word={false} size={20} />to {mv.to}</span>
                {#if mv.because}<span class="text-soft"><Reason reason={mv.because} /></span>{/if}
              </li>
            {/each}
          </ol>
        {:else}<p class="my-2">No move is planned on those days.</p>{/if}
        <details open>
          <summary class="min-h-12 py-2 font-semibold text-tarn">How they are moved</summary>
          {#if m.evening.length}
            <h3>The evening before</h3>
            <ol class="list-decimal pl-6">
              {#each m.evening as s (s)}<li>{s}</li>{/each}
            </ol>
          {/if}
          <h3 class="mt-2">At the gate</h3>
          <ol class="list-decimal pl-6">
            {#each m.steps as s (s)}<li>{s}</li>{/each}
          </ol>
          {#if m.fence_kv}<p class="mt-1">
              The far end of the fence must read {withUnit(m.fence_kv, 'kv', house.system)} or more before they go in.
            </p>{/if}
        </details>
      </section>
    {/each}
    {#if c.jobs.length}
      <section>
        <h2>To do</h2>
        <ul class="list-disc pl-6">
          {#each c.jobs as j, i (i)}<li>
              {j.what}{j.paddock_name ? `, ${j.paddock_name}` : ''}{j.due_on ? `, by ${day(j.due_on)}` : ''}
            </li>{/each}
        </ul>
      </section>
    {/if}
    {#if c.cautions.length}
      <section>
        <h2>Mind</h2>
        <ul class="list-disc pl-6">
          {#each c.cautions as x (x.id)}<li><strong>{x.title}.</strong> {x.what_to_watch} {x.who_to_ask}</li>{/each}
        </ul>
      </section>
    {/if}
    <section>
      <h2 class="mb-2">Whom to call</h2>
      <EmergencyCard
        card={{ id: '', farm: c.farm, place: '', longitude: c.longitude, latitude: c.latitude, emergency: c.emergency }}
      />
    </section>
  {:else}
    <Loading error={card.error} what="the card" />
  {/if}
</main>
