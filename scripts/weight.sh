#!/usr/bin/env bash
# Weighs the script of the first screen, compressed: the start page's own script and every chunk Today needs, without
# the map's chunk, which comes after.
set -euo pipefail
cd "$(dirname "$0")/.."
node - <<'JS'
const fs = require('fs'), zlib = require('zlib'), path = 'internal/httpapi/dist/assets/'
const files = fs.readdirSync(path).filter((f) => f.endsWith('.js'))
const seen = new Set()
function walk(name) {
  if (seen.has(name)) return
  seen.add(name)
  const text = fs.readFileSync(path + name, 'utf8')
  for (const m of text.matchAll(/(?:from|import)\s*["']\.\/([^"']+\.js)["']/g)) walk(m[1])
}
walk(files.find((f) => f.startsWith('index-') && fs.readFileSync('internal/httpapi/dist/index.html', 'utf8').includes(f)))
walk(files.find((f) => f.startsWith('Today-')))
let total = 0
for (const f of [...seen].sort()) {
  const size = zlib.gzipSync(fs.readFileSync(path + f)).length
  total += size
  console.log(String(size).padStart(8), f)
}
console.log(String(total).padStart(8), 'bytes of script for the first screen, gzip')
const map = files.find((f) => f.startsWith('drawn-'))
console.log(String(zlib.gzipSync(fs.readFileSync(path + map)).length).padStart(8), map, '(the map, loaded after)')
JS
