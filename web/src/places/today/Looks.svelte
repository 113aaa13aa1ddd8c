<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { useLooks } from '../../api/queries.svelte'
  import { press } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { house } from '../../ui/house.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { longDay, sayMoment } from '../../ui/time.svelte'
  import { number } from '../../ui/units'

  // The last looks, and what a photo point has seen, side by side.
  let { farm }: { farm: string } = $props()

  const looks = useLooks(() => farm)
  let shown = $state.raw<Schemas['LookView'] | null>(null)
  let point = $state.raw<Schemas['PointView'] | null>(null)
  let open = $state(false)
  let more = $state(false)
  const stageWords = { before: 'before', during: 'while they grazed', after: 'after' } as Record<string, string>
  const words = (l: Schemas['LookView']) =>
    (looks.data?.asks ?? []).flatMap((a) => {
      const x = a.answers.find((x) => x.id === l.answers[a.id])
      return x ? [`${a.label}: ${x.label}`] : []
    })
  const takeBack = (l: Schemas['LookView']) =>
    press(() => ask(api.DELETE('/api/farms/{farm}/looks/{id}', { params: { path: { farm, id: l.id } } })), {
      say: 'Look taken back; it stays on record as taken back.',
      then: () => (open = false),
    })
</script>

{#if looks.data && (looks.data.looks.length || looks.data.points.length)}
  <section class="no-print" aria-label="Looks">
    <h2 class="mb-1">Last looks</h2>
    <ul>
      {#each looks.data.looks.slice(0, more ? undefined : 3) as l (l.id)}
        <li class="border-b border-line">
          <button
            type="button"
            class="flex min-h-12 w-full items-center gap-2 py-1 text-left hover:text-tarn"
            onclick={() => {
              shown = l
              point = null
              open = true
            }}
            ><span class="flex-1"
              >{l.paddock_name}, {stageWords[l.stage]}
              <span class="text-sm text-soft">{sayMoment(new Date(l.seen_at))}, {l.by}</span></span
            >
            {#if l.minds.length}<span class="text-sm font-semibold text-now-ink">{l.minds.length} to mind</span>{/if}
            {#each l.photos.slice(0, 1) as p (p.id)}<img
                src="/api/farms/{farm}/photos/{p.id}"
                alt=""
                loading="lazy"
                class="h-12 w-12 rounded-lg object-cover"
              />{/each}</button
          >
        </li>
      {/each}
      {#each looks.data.points as p (p.paddock_id + p.point)}
        <li class="border-b border-line">
          <button
            type="button"
            class="flex min-h-12 w-full items-center gap-2 text-left hover:text-tarn"
            onclick={() => {
              point = p
              shown = null
              open = true
            }}
            >Photo point {p.point}, {p.paddock_name}
            <span class="text-sm text-soft">{p.photos.length === 1 ? 'one photo' : `${p.photos.length} photos`}</span></button
          >
        </li>
      {/each}
    </ul>
    {#if looks.data.looks.length > 3}<button
        type="button"
        class="no-print min-h-12 font-semibold text-tarn"
        aria-expanded={more}
        onclick={() => (more = !more)}>{more ? 'Fewer' : 'All looks'}</button
      >{/if}
  </section>
  <Dialog
    bind:open
    size="lg"
    title={shown
      ? `${shown.paddock_name}, ${stageWords[shown.stage]}`
      : point
        ? `${point.point}, ${point.paddock_name}`
        : 'A look'}
  >
    {#if shown}
      <p class="text-soft">{sayMoment(new Date(shown.seen_at))}, {shown.by}{shown.mob_name ? `, ${shown.mob_name}` : ''}</p>
      <ul class="list-disc pl-5">
        {#each words(shown) as w (w)}<li>{w}</li>{/each}
        {#each shown.animals as a (a.class_id)}
          <li>
            {a.class_name}: {[
              a.condition === undefined ? '' : `condition ${number(a.condition, '', house.system)}`,
              a.lame_tags ? `lame ${a.lame_tags}` : '',
              a.thin_tags ? `thin ${a.thin_tags}` : '',
            ]
              .filter(Boolean)
              .join(', ')}
          </li>
        {/each}
        {#each shown.minds as m, i (i)}<li class="font-semibold text-now-ink"><Reason reason={m} /></li>{/each}
        {#if shown.note}<li>{shown.note}</li>{/if}
      </ul>
      <div class="flex flex-wrap gap-2">
        {#each shown.photos as p (p.id)}<img
            src="/api/farms/{farm}/photos/{p.id}"
            alt="Taken {sayMoment(new Date(p.taken_at))}"
            class="max-h-72 rounded-xl"
          />{/each}
      </div>
      {#if house.may('hand')}<Button kind="quiet" onclick={() => void takeBack(shown!)}>Take this look back</Button>{/if}
    {:else if point}
      <div class="grid grid-cols-2 gap-3 max-md:grid-cols-1">
        {#each [...point.photos].reverse() as p (p.id)}
          <figure>
            <img
              src="/api/farms/{farm}/photos/{p.id}"
              alt="{point.point}, {longDay(new Date(p.taken_at))}"
              class="w-full rounded-xl"
            />
            <figcaption class="text-sm text-soft">
              {longDay(new Date(p.taken_at))}
              {new Date(p.taken_at).getFullYear()}{p.stage ? `, ${stageWords[p.stage]}` : ''}
            </figcaption>
          </figure>
        {/each}
      </div>
    {/if}
  </Dialog>
{/if}
