<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { useHouse, useReminders } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Refused from '../../ui/Refused.svelte'

  // Of what a person wants to be reminded by mail; quiet unless they say so.
  let { farm }: { farm: string } = $props()

  const installed = useHouse()
  const reminders = useReminders(() => farm)
  const write = new Write()
  const kinds: { key: Schemas['Reminders']['kinds'][number]; label: string }[] = [
    { key: 'moves', label: 'Moves of the next day, and what to do tonight' },
    { key: 'minding', label: 'What cannot wait: no feed, a fence that is down' },
    { key: 'jobs', label: 'Jobs that are due' },
    { key: 'walk', label: 'A walk that is due' },
  ]
  const now = $derived(reminders.data ?? { kinds: [], at_minute: 1080 })

  function keep(body: Schemas['Reminders']) {
    const was = now
    const put = (b: Schemas['Reminders']) => ask(api.PUT('/api/farms/{farm}/reminders', { params: { path: { farm } }, body: b }))
    return write.send(() => put(body), {
      say: body.kinds.length ? 'Kept: it goes to your e-mail, for you alone.' : 'Kept: nothing is sent.',
      undo: () => put(was),
    })
  }
</script>

<section aria-label="Reminders" class="flex flex-col gap-2">
  <h2>Reminders</h2>
  {#if installed.data && !installed.data.mail}
    <p class="text-soft">
      This installation sends no mail: whoever keeps it can set a mail server. Today says the same while it is open.
    </p>
  {:else}
    {#each kinds as k (k.key)}
      <label class="flex min-h-12 items-center gap-3"
        ><input
          type="checkbox"
          class="size-6 shrink-0 rounded border-soft text-tarn"
          checked={now.kinds.includes(k.key)}
          onchange={(e) =>
            void keep({
              ...now,
              kinds: e.currentTarget.checked ? [...now.kinds, k.key] : now.kinds.filter((x) => x !== k.key),
            })}
        />{k.label}</label
      >
    {/each}
    <Choice
      label="At"
      value={String(now.at_minute)}
      options={[5, 6, 7, 12, 16, 17, 18, 19, 20, 21].map((h) => ({
        value: String(h * 60),
        label: `${String(h).padStart(2, '0')}:00`,
      }))}
      onchange={(v) => void keep({ ...now, at_minute: Number(v) })}
    />
    <Refused refusal={write.refusal} shown={[]} />
  {/if}
</section>
