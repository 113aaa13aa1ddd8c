<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Question } from '../../api/question.svelte'
  import Answerless from '../../ui/Answerless.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'

  // Ground closed up in late summer and fed off in strips, with a share of hay beside each.
  let { farm, winter }: { farm: string; winter: Schemas['WinterView'] } = $props()

  // svelte-ignore state_referenced_locally
  let field = $state(winter.fields[0]!.id)
  let group = $state('0')
  // svelte-ignore state_referenced_locally
  const year = Number(winter.months[0]!.from.slice(0, 4))
  // In the south seasons lie half a year off.
  const south = (house.farm?.latitude ?? 0) < 0
  let closes = $state(south ? `${year + 1}-02-10` : `${year}-08-10`)
  let from = $state(south ? `${year + 1}-05-01` : `${year}-11-01`)
  let until = $state(south ? `${year + 1}-07-15` : `${year + 1}-01-15`)
  let strips = $state<number | null>(8)
  let hay = $state<number | null>(0.25)
  let weighs = $state<number | null>(null)
  let dry = $state<number | null>(null)
  const question = new Question<Schemas['StockpileView']>()
  const answer = $derived(question.answer)
  const at = (f: string) => question.at(f)
  const work = () =>
    question.ask(() =>
      ask(
        api.POST('/api/farms/{farm}/year/stockpile', {
          params: { path: { farm } },
          body: {
            field_id: field,
            group: Number(group),
            close_day: closes,
            from_day: from,
            until_day: until,
            strips: strips ?? 0,
            hay_share: hay ?? 0,
            bale_kg: weighs ?? undefined,
            dry_matter_share: dry ?? undefined,
          },
        }),
      ),
    )
  const kg = (x: number) => withUnit(x, 'kg_ha', house.system, 0)
  const most = $derived(Math.max(0.1, ...(answer?.strips ?? []).map((s) => s.days)))
</script>

<section aria-label="Stockpile" class="rounded-xl border border-line bg-surface p-4">
  <h2>Stockpiled grass, strip by strip</h2>
  <p class="text-soft">Closed up in late summer, opened behind a front fence in winter, some hay beside each strip.</p>
  <form class="no-print mt-2 flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void work())}>
    <div class="grid grid-cols-2 items-start gap-3">
      <Choice
        label="Which field"
        bind:value={field}
        options={winter.fields.map((f) => ({ value: f.id, label: `${f.name}, ${withUnit(f.area_ha, 'ha', house.system)}` }))}
      />
      <Choice label="For whom" bind:value={group} options={winter.groups.map((g, i) => ({ value: String(i), label: g }))} />
    </div>
    <div class="grid grid-cols-3 items-start gap-3 max-md:grid-cols-1">
      <TextField label="Closed on" type="date" bind:value={closes} error={at('close_day')} />
      <TextField label="Fed from" type="date" bind:value={from} error={at('from_day')} />
      <TextField label="Until" type="date" bind:value={until} error={at('until_day')} />
    </div>
    <div class="grid grid-cols-4 items-start gap-3 max-md:grid-cols-2">
      <NumberField compact label="Strips" bind:value={strips} error={at('strips')} />
      <NumberField compact label="Of it hay" unit="share" bind:value={hay} error={at('hay_share')} />
      <NumberField compact label="A bale" unit="kg" bind:value={weighs} hint="weighed, or empty" error={at('bale_kg')} />
      <NumberField compact label="Its dry matter" unit="share" bind:value={dry} error={at('dry_matter_share')} />
    </div>
    <Answerless {question} shown={['close_day', 'from_day', 'until_day', 'strips', 'hay_share', 'bale_kg', 'dry_matter_share']} />
    <div><Button kind="main" type="submit">How far does it go?</Button></div>
  </form>
  {#if answer}
    <div class="mt-3 border-t border-line pt-3" aria-live="polite">
      <p>
        <Figure value={answer.days} unit="day" size="large" working={answer.figure} title="A stockpile" />
        <span class="text-soft">of feed, until {sayDay(new Date(answer.ends))}</span>
      </p>
      {#if answer.short_days >= 1}<p class="mt-1 font-bold text-stop">
          {number(answer.short_days, 'day', house.system, 0)} days of the time are left without: more ground, more hay, or an earlier
          close.
        </p>{:else}<p class="mt-1">It is enough for the whole time.</p>{/if}
      <ol class="mt-3 flex flex-col gap-1" aria-label="Strips">
        {#each answer.strips as s, i (i)}
          <li class="flex items-center gap-3">
            <span class="w-6 text-right text-soft">{i + 1}</span>
            <span class="h-6 rounded-sm bg-(--feed-2)" style:width="{(45 * s.days) / most}%"></span>
            <span class="figure font-semibold">{withUnit(s.days, 'day', house.system, 1)}</span>
            {#if s.bales !== undefined}<span class="text-soft">{number(s.bales, 'count', house.system, 0)} bales</span>{/if}
          </li>
        {/each}
      </ol>
      <p class="mt-2">
        It stands at {withUnit(answer.opens_kg_dm_ha, 'kg_ha', house.system, 0)} when it is opened; they want {withUnit(
          answer.wants_kg_dm_day,
          'kg',
          house.system,
          0,
        )} a day.
        {#if answer.hay_kg_dm}Hay beside it: <strong>{withUnit(answer.hay_kg_dm, 'kg_fodder', house.system)}</strong
          >{answer.bales !== undefined
            ? `, ${number(answer.bales, 'count', house.system, 0)} bales`
            : '; bales are counted when one is weighed'}. It leaves about {kg(answer.nitrogen_kg_ha)} nitrogen, {kg(
            answer.phosphorus_kg_ha,
          )} phosphorus and {kg(answer.potassium_kg_ha)} potassium, middling hay counted.{/if}
      </p>
      {#if answer.rests.length}<p class="mt-1 text-soft">
          Left alone meanwhile, to rest until spring: {answer.rests.join(', ')}.
        </p>{/if}
      <p class="mt-2 rounded-xl bg-now-wash px-3 py-2 text-sm text-now-ink">
        How much nutrient may lie on ground in winter, and how near water, is law in many places: look it up. Frosted regrowth and
        clover can bloat hungry stock: fill them first, and look after an hour.
      </p>
    </div>
  {/if}
</section>
