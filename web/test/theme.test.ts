import assert from 'node:assert/strict'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { test } from 'node:test'

const files = (dir: string): string[] =>
  readdirSync(dir, { withFileTypes: true }).flatMap((f) =>
    f.isDirectory()
      ? files(join(dir, f.name))
      : /\.(svelte|css|ts)$/.test(f.name) && !f.name.endsWith('.d.ts')
        ? [join(dir, f.name)]
        : [],
  )

// A colour that is used and set nowhere is none: a page over the whole screen was black by it.
test('every custom property that is used is set somewhere', () => {
  const set = new Set<string>()
  const used = new Map<string, string>()
  for (const file of files(join(import.meta.dirname, '../src'))) {
    const text = readFileSync(file, 'utf8')
    for (const m of text.matchAll(/(?:^|[\s{;'"])(?:style:)?(--[a-z][a-z0-9-]*)\s*[:=]/gm)) set.add(m[1]!)
    for (const m of text.matchAll(/(?:var\(|-\()(--[a-z][a-z0-9-]*[a-z0-9])\s*[),]/g)) used.set(m[1]!, file)
  }
  assert.ok(used.size > 20)
  const lost = [...used].filter(([name]) => !set.has(name)).map(([name, file]) => `${name} in ${file}`)
  assert.deepEqual(lost, [])
})
