<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { useEyes } from '../../api/queries.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { dayMonth } from '../../ui/time.svelte'
  import { number } from '../../ui/units'

  let { farm }: { farm: string } = $props()
  const eyes = useEyes(() => farm)

  const levels = ['new', 'fair', 'good', 'trained']
  const says: Record<string, string> = {
    new: 'A new eye. Keep guessing before you measure: that is all the training there is.',
    fair: 'A fair eye: good enough to see which paddock is ahead, not to plan days by.',
    good: 'A good eye: a look will do between two walks.',
    trained: 'A trained eye. Measure now and then, so that it stays so.',
  }
  const width = 760
  const height = 210
  const x = $derived((i: number, n: number) => 54 + (i * (width - 80)) / Math.max(1, n - 1))
  const y = scaleLinear()
    .domain([-0.45, 0.45])
    .range([height - 24, 12])
    .clamp(true)
</script>

{#if eyes.data?.length}
  {#each eyes.data as e (e.user_id)}
    {@const list = e.guesses.slice(-80)}
    <section class="mb-4 rounded-2xl border border-line bg-surface p-5" aria-label="The eye of {e.name}">
      <div class="flex flex-wrap items-center gap-x-8 gap-y-2">
        <h2>{e.name}</h2>
        <ol class="flex items-center gap-1" aria-label="Level: {e.level}">
          {#each levels as l, i (l)}
            <li
              class="flex items-center gap-1.5 rounded-full px-3 py-1 text-sm font-semibold {l === e.level
                ? 'bg-tarn text-on-tarn'
                : i < levels.indexOf(e.level)
                  ? 'bg-tarn-wash text-tarn-deep'
                  : 'border border-line text-soft'}"
            >
              <svg width="14" height="12" viewBox="0 0 14 12" aria-hidden="true"
                ><path d="M0 12 7 {10 - i * 3} 14 12z" fill="currentColor" /></svg
              >{l}
            </li>
          {/each}
        </ol>
        <p class="ml-auto text-right">
          <span class="figure text-[34px] leading-none">{e.run}</span> <span class="text-soft">near in a row</span>
        </p>
      </div>
      <p class="mt-1">{says[e.level]}</p>
      <dl class="mt-3 flex flex-wrap gap-x-10 gap-y-2">
        <div>
          <dt class="text-sm text-soft">Bias, the last {e.n}</dt>
          <dd><Figure value={e.bias} unit="share" size="large" working={e.bias_figure} title="Bias of the eye" /></dd>
        </div>
        <div>
          <dt class="text-sm text-soft">Spread</dt>
          <dd>± <Figure value={e.spread} unit="share" size="large" working={e.spread_figure} title="Spread of the eye" /></dd>
        </div>
        <div>
          <dt class="text-sm text-soft">Within a tenth</dt>
          <dd class="figure text-2xl">{e.near} of {e.n}</dd>
        </div>
        <div>
          <dt class="text-sm text-soft">Best run</dt>
          <dd class="figure text-2xl">{e.best}</dd>
        </div>
      </dl>
      <svg
        viewBox="0 0 {width} {height}"
        class="mt-3 w-full"
        role="img"
        aria-label="Each guess against what was measured, oldest left"
      >
        <rect x="46" width={width - 62} y={y(0.1)} height={y(-0.1) - y(0.1)} fill="var(--feed-2)" opacity="0.28" />
        <line x1="46" x2={width - 16} y1={y(0)} y2={y(0)} stroke="var(--ink)" stroke-width="1.5" />
        {#each [-0.4, -0.2, 0.2, 0.4] as t (t)}
          <text x="40" y={y(t) + 4} font-size="12" text-anchor="end" fill="var(--soft)"
            >{t > 0 ? '+' : '−'}{Math.abs(t * 100)} %</text
          >
        {/each}
        {#each list as g, i (g.at + g.paddock)}
          <circle
            cx={x(i, list.length)}
            cy={y(g.off)}
            r="4.5"
            fill={g.near ? 'var(--feed-4)' : 'var(--surface)'}
            stroke="var(--feed-4)"
            stroke-width="1.6"
          >
            <title
              >{g.paddock}, {dayMonth(new Date(g.at))}: guessed {number(g.guess_kg_dm_ha, 'kg_ha', house.system)}, measured {number(
                g.measured_kg_dm_ha,
                'kg_ha',
                house.system,
              )}</title
            >
          </circle>
        {/each}
        {#if list[0]}<text x="46" y={height - 4} font-size="12" fill="var(--soft)">{dayMonth(new Date(list[0].at))}</text>{/if}
        {#if list.length > 1}<text x={width - 20} y={height - 4} font-size="12" text-anchor="end" fill="var(--soft)"
            >{dayMonth(new Date(list[list.length - 1]!.at))}</text
          >{/if}
      </svg>
      <p class="text-sm text-soft">
        The band is within a tenth. A trained eye has twenty guesses with a bias within 5 % and a spread within 12 %.
      </p>
    </section>
  {/each}
{:else if eyes.data}
  <Empty title="No guesses yet">Say what your eye sees before you measure: Fjell keeps both, and shows how near it comes.</Empty>
{:else}
  <Loading error={eyes.error} what="the eyes" />
{/if}
