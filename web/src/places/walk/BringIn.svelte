<script lang="ts">
  import { many } from '../../ui/many'
  import { api, ask, type Schemas } from '../../api/client'
  import { useDevices, useWaiting } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import BadRows from '../../ui/BadRows.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Columns from '../../ui/Columns.svelte'
  import FilePick from '../../ui/FilePick.svelte'
  import FileUnits from '../../ui/FileUnits.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { clock, sayDay } from '../../ui/time.svelte'
  import { number, scale } from '../../ui/units'

  let { farm }: { farm: string } = $props()
  const waiting = useWaiting(() => farm)
  const devices = useDevices(() => farm)

  let chosen = $state<Record<string, boolean>>({})
  const write = new Write()
  const refusal = $derived(write.refusal)
  let text = $state('')
  let units = $state<'' | 'metric' | 'imperial'>('')
  let name = $state('')
  let method = $state<'plate' | 'stick' | 'plain'>('plate')
  let file = $state<Schemas['ReadingFileView'] | null>(null)
  let deviceName = $state('')
  let fresh = $state<Schemas['DeviceView'] | null>(null)
  const busy = $derived(write.busy)

  const good = $derived((waiting.data?.stops ?? []).filter((s) => !s.problem && chosen[s.key] !== false))

  const take = () => {
    const n = good.length
    return write.send(
      () =>
        ask(api.POST('/api/farms/{farm}/readings/take', { params: { path: { farm } }, body: { keys: good.map((s) => s.key) } })),
      { say: `${many(n, 'paddock')} measured from readings that were brought in.` },
    )
  }

  const drop = (ids: string[]) =>
    write.send(
      () => ask(api.POST('/api/farms/{farm}/readings/take', { params: { path: { farm } }, body: { keys: [], drop: ids } })),
      { say: `${many(ids.length, 'reading')} deleted.` },
    )

  const read = (columns?: Record<string, number>, keep = false) =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/readings/file', {
            params: { path: { farm } },
            body: { name, text, method, columns, units, keep },
          }),
        ),
      {
        say: keep
          ? (v) => `${many(v.kept, 'reading')} brought in${v.kept_before ? `, ${v.kept_before} were here before` : ''}.`
          : undefined,
        then: (v) => {
          file = keep ? null : v
          if (keep) text = ''
        },
      },
    )

  const addDevice = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/devices', {
            params: { path: { farm } },
            body: { id: write.id(), name: deviceName, kind: 'plate' },
          }),
        ),
      {
        then: (made) => {
          fresh = made
          deviceName = ''
        },
      },
    )

  const standIn = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/devices/stand-in', {
            params: { path: { farm } },
            body: { token: fresh!.token!, drops_each: 20, seed: 7 },
          }),
        ),
      { say: (v) => `The made-up plate walked the farm and sent ${v.sent} readings, repeats included.` },
    )
</script>

{#if waiting.data && devices.data}
  <Refused {refusal} />
  {#if waiting.data.stops.length || waiting.data.unassigned.length}
    <section class="mb-4 rounded-2xl border border-line bg-surface p-5">
      <div class="flex flex-wrap items-center gap-3">
        <h2 class="flex-1">Waiting to be taken in</h2>
        {#if house.may('hand')}<Button kind="main" disabled={!good.length || busy} onclick={take}
            >Take in {good.length} paddock{good.length === 1 ? '' : 's'}</Button
          >{/if}
      </div>
      <table class="mt-3 w-full text-[15px]">
        <thead class="text-left text-sm text-soft"
          ><tr
            ><th class="font-normal">Paddock</th><th class="font-normal max-md:hidden">From</th><th class="text-right font-normal"
              >Readings</th
            ><th class="text-right font-normal">Comes to</th><th class="text-right font-normal max-md:hidden">Believed</th></tr
          ></thead
        >
        <tbody>
          {#each waiting.data.stops as s (s.key)}
            <tr class="border-t border-line">
              <td
                ><label class="flex min-h-11 items-center gap-2 font-semibold"
                  ><input
                    type="checkbox"
                    class="size-5 rounded border-soft"
                    disabled={!!s.problem}
                    bind:checked={() => !s.problem && chosen[s.key] !== false, (v) => (chosen[s.key] = v)}
                  />{s.paddock}</label
                ></td
              >
              <td class="max-md:hidden"
                >{s.source}, {sayDay(new Date(s.from))} {clock(new Date(s.from))}–{clock(new Date(s.until))}</td
              >
              <td class="text-right">{s.n}{s.outliers ? `, ${s.outliers} far off` : ''}</td>
              <td class="text-right whitespace-nowrap"
                >{#if s.forage_mass_kg_dm_ha !== undefined}<strong>{number(s.forage_mass_kg_dm_ha, 'kg_ha', house.system)}</strong
                  >
                  ± {number(s.half_width_kg_dm_ha ?? 0, 'kg_ha', house.system)}{:else}<span class="text-stop">{s.problem}</span
                  >{/if}</td
              >
              <td class="text-right max-md:hidden">{number(s.believed_kg_dm_ha, 'kg_ha', house.system)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
      {#if waiting.data.unassigned.length}
        <div class="mt-3 rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink">
          <p class="font-semibold">{many(waiting.data.unassigned.length, 'reading lies', 'readings lie')} in no paddock:</p>
          <p class="text-sm">
            {waiting.data.unassigned
              .slice(0, 8)
              .map((u) => `${number(u.value, '', house.system, 1)} at ${clock(new Date(u.taken_at))} (${u.why})`)
              .join(', ')}{waiting.data.unassigned.length > 8 ? ' …' : ''}
          </p>
          {#if house.may('hand')}<button
              type="button"
              class="min-h-11 font-semibold underline underline-offset-4"
              onclick={() => drop(waiting.data!.unassigned.map((u) => u.id))}>Let them go</button
            >{/if}
        </div>
      {/if}
    </section>
  {/if}
  {#if house.may('hand')}
    <div class="grid gap-4 md:grid-cols-2">
      <section class="flex flex-col gap-3 rounded-2xl border border-line bg-surface p-5">
        <h2>From a file</h2>
        <p class="text-soft">
          CSV with time, place and height, or GPX waypoints with a number. Readings find their paddock by where they were taken.
        </p>
        <Choice
          label="What was read"
          bind:value={method}
          options={[
            { value: 'plate', label: `compressed height, ${scale('cm', house.system).symbol}` },
            { value: 'stick', label: `height of the leaf, ${scale('cm', house.system).symbol}` },
            { value: 'plain', label: `forage mass, ${scale('kg_ha', house.system).symbol}` },
          ]}
          onchange={() => text && read(file?.columns)}
        />
        <FileUnits
          bind:units
          metric={method === 'plain' ? 'kg DM/ha' : 'centimetres'}
          imperial={method === 'plain' ? 'lb DM/ac' : 'inches'}
          onchange={() => text && read(file?.columns)}
        />
        <FilePick
          label="A file of readings"
          accept=".csv,.txt,.gpx"
          onread={(t, n) => {
            text = t
            name = n
            void read()
          }}
        />
        {#if file}
          {#if file.heads.length}
            <Columns
              heads={file.heads}
              columns={file.columns}
              fields={[
                { key: 'time', label: 'Time', needed: true },
                { key: 'value', label: 'Reading', needed: true },
                { key: 'latitude', label: 'Latitude' },
                { key: 'longitude', label: 'Longitude' },
                { key: 'paddock', label: 'Paddock' },
              ]}
              onchange={(c) => read(c)}
            />
          {/if}
          <p>{many(file.good, 'reading')}, {file.placed} of them in a paddock.</p>
          <BadRows rows={file.bad} />
          <div>
            <Button kind="main" disabled={!file.good || busy} onclick={() => read(file!.columns, true)}
              >Bring in {many(file.good, 'reading')}</Button
            >
          </div>
        {/if}
      </section>
      <section class="flex flex-col gap-3 rounded-2xl border border-line bg-surface p-5">
        <h2>From a device</h2>
        <p class="text-soft">A device sends its readings to Fjell by itself and is known by its code.</p>
        {#each devices.data as d (d.id)}
          <div class="flex items-center gap-3 border-t border-line pt-2">
            <span class="flex-1"
              ><strong>{d.name}</strong><br /><span class="text-sm text-soft"
                >{d.revoked ? 'shut out · ' : ''}{many(d.readings, 'reading')} sent</span
              ></span
            >
            {#if !d.revoked && house.may('manager')}<Button
                kind="quiet"
                onclick={() =>
                  write.send(() => ask(api.DELETE('/api/farms/{farm}/devices/{id}', { params: { path: { farm, id: d.id } } })), {
                    say: `${d.name} is shut out.`,
                  })}>Shut out</Button
              >{/if}
          </div>
        {/each}
        {#if house.may('manager')}
          <div class="flex items-end gap-3">
            <div class="flex-1"><TextField label="Name of a new device" bind:value={deviceName} /></div>
            <Button disabled={!deviceName.trim()} onclick={addDevice}>Add</Button>
          </div>
          {#if fresh?.token}
            <div class="rounded-xl border border-line bg-page p-3">
              <p class="text-sm text-soft">Its code, shown this once. Write it into the device:</p>
              <p class="font-mono text-sm break-all select-all">{fresh.token}</p>
              <p class="mt-2 text-sm text-soft">
                No device at hand? A made-up plate that comes with Fjell walks the farm and sends what it reads the same way, with
                a plate's scatter, drift and a bad connection.
              </p>
              <div class="mt-2">
                <Button disabled={busy} onclick={standIn}>{busy ? 'Walking…' : 'Let the made-up plate walk'}</Button>
              </div>
            </div>
          {/if}
        {/if}
      </section>
    </div>
  {/if}
{:else}
  <Loading error={waiting.error ?? devices.error} what="what waits" />
{/if}
