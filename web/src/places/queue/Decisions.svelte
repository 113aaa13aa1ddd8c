<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Came from './Came.svelte'
  import { takeBack } from './decisions'

  // What was decided, the latest first, each held against what came of it.
  let { farm, decisions }: { farm: string; decisions: Schemas['DecisionView'][] } = $props()
  const write = new Write()
  const undo = (d: Schemas['DecisionView']) =>
    write.send(() => takeBack(farm, d.id), { say: 'Taken back: what it wrote is as it was before.' })
</script>

<section class="no-print mt-6 border-t border-line pt-3" aria-label="What was decided">
  <h2>What was decided</h2>
  <Refused refusal={write.refusal} />
  {#each decisions as d (d.id)}
    {@const back = d.taken_back_at !== null}
    <article class="grid grid-cols-[1fr_minmax(0,26rem)] gap-x-6 border-b border-line py-3 max-lg:grid-cols-1">
      <div class={back ? 'text-soft' : ''}>
        <h3>{sayDay(new Date(d.made_at))} <span class="text-base font-normal text-soft">{d.by}</span></h3>
        {#if d.reason}<p>“{d.reason}”</p>{/if}
        <ul class="mt-1 list-disc pl-5">
          {#each d.says as s, i (i)}<li><Reason reason={s} />.</li>{/each}
        </ul>
        <p class="mt-1 text-sm text-soft">
          Feed missing in eight weeks: {withUnit(d.missing_days_with, 'day', house.system)}, without it {withUnit(
            d.missing_days_without,
            'day',
            house.system,
          )}{d.money ? `; ${number(Math.abs(d.money), '', house.system, 0)} ${d.money < 0 ? 'brought in' : 'spent'}` : ''}{d.hours
            ? `; ${withUnit(d.hours, 'hour', house.system)} of labour`
            : ''}.
        </p>
        {#if back}
          <p class="font-semibold">Taken back on {sayDay(new Date(d.taken_back_at!))}.</p>
        {:else if house.may('manager')}
          <Button kind="quiet" label="Take it back: decided on {sayDay(new Date(d.made_at))}" onclick={() => void undo(d)}
            >Take it back</Button
          >
        {/if}
      </div>
      {#if !back && d.days.length}
        <div>
          <Came days={d.days} />
          {#each d.came as s, i (i)}<p class={i ? 'text-soft' : 'text-lg font-semibold'}><Reason reason={s} />.</p>{:else}<p
              class="text-soft"
            >
              What comes of it is seen from tomorrow on.
            </p>{/each}
        </div>
      {/if}
    </article>
  {/each}
</section>
