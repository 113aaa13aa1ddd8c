<script lang="ts">
  import { api, ask, newId, type Schemas } from '../../api/client'
  import { press } from '../../api/write.svelte'
  import { address } from '../../ui/address'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import { sayMoment } from '../../ui/time.svelte'

  let { moves, mobs, farm }: { moves: Schemas['MoveView'][]; mobs: Schemas['MobView'][]; farm: string } = $props()

  const takeBack = (m: Schemas['MoveView']) => {
    const again = newId()
    return press(() => ask(api.DELETE('/api/farms/{farm}/moves/{id}', { params: { path: { farm, id: m.id } } })), {
      say: 'Move taken back; the record keeps both.',
      undo: () =>
        ask(
          api.POST('/api/farms/{farm}/moves', {
            params: { path: { farm } },
            body: {
              id: again,
              mob_id: m.mob_id,
              to_paddock_id: m.to_paddock_id ?? undefined,
              moved_at: m.moved_at,
              height_left_cm: m.height_left_cm ?? undefined,
              mass_left_kg_dm_ha: m.height_left_cm === null ? (m.mass_left_kg_dm_ha ?? undefined) : undefined, // one of the two was said
              counted: m.counted ?? undefined,
              source_kv: m.source_kv ?? undefined,
              end_kv: m.end_kv ?? undefined,
              drink_seen: m.drink_seen ?? undefined,
              note: m.note,
              confirmed: true,
            },
          }),
        ),
    })
  }
</script>

<section class="no-print" aria-label="What happened">
  <h2 class="mb-1">Last moves</h2>
  <ul>
    {#each moves.slice(0, 3) as m (m.id)}
      {@const mob = mobs.find((x) => x.id === m.mob_id)}
      <li class="flex min-h-11 items-center gap-2 border-b border-line py-1">
        {#if mob}<Glyph glyph={mob.glyph} letter={mob.letter} size={22} />{/if}
        <span class="flex-1"
          >{m.to_name || 'off the pasture'} <span class="text-sm text-soft">{sayMoment(new Date(m.moved_at))}</span></span
        >
        {#if m.can_withdraw && house.may('hand')}
          <button
            type="button"
            class="no-print min-h-12 px-2 text-sm font-semibold text-tarn underline underline-offset-4"
            onclick={() => void takeBack(m)}>Undo this move</button
          >
        {/if}
        {#if house.may('hand')}
          <button
            type="button"
            class="no-print min-h-12 px-1 text-sm font-semibold text-tarn underline underline-offset-4"
            aria-label="Put right: the move to {m.to_name || 'off the pasture'}"
            onclick={() => address.show({ correct: m.id })}>Put right</button
          >
        {/if}
      </li>
    {/each}
  </ul>
</section>
