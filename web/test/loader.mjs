// Lets Node run the app's own modules in tests: TypeScript is stripped, Svelte components and modules are compiled for the
// browser, imports without an ending find their file.
import { readFile } from 'node:fs/promises'
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { transformSync } from 'rolldown/utils'
import { compile, compileModule } from 'svelte/compiler'

const endings = ['', '.ts', '.svelte.ts', '.js', '/index.js']

export async function resolve(specifier, context, next) {
  if (specifier === 'virtual:pwa-register')
    return { url: 'data:text/javascript,export const registerSW = () => {}', shortCircuit: true }
  const [path, query] = specifier.split('?')
  if (path.startsWith('.') && context.parentURL?.startsWith('file:')) {
    for (const ending of endings) {
      const url = new URL(path + ending, context.parentURL)
      const file = fileURLToPath(url)
      if (existsSync(file) && /\.\w+$/.test(file)) return { url: url.href + (query ? '?' + query : ''), shortCircuit: true }
    }
  }
  return next(specifier, context)
}

export async function load(url, context, next) {
  if (url.endsWith('?url'))
    return { format: 'module', source: `export default ${JSON.stringify(url.slice(0, -4))}`, shortCircuit: true }
  if (!url.startsWith('file:')) return next(url, context)
  const filename = fileURLToPath(url)
  const module = (source) => ({ format: 'module', source, shortCircuit: true })
  if (filename.endsWith('.json')) return module(`export default ${await readFile(filename, 'utf8')}`)
  if (filename.endsWith('.css')) return module('')
  if (filename.endsWith('.svelte'))
    return module(
      compile(await readFile(filename, 'utf8'), { filename, generate: 'client', dev: false, css: 'injected' }).js.code,
    )
  if (filename.endsWith('.svelte.js'))
    return module(compileModule(await readFile(filename, 'utf8'), { filename, generate: 'client', dev: false }).js.code)
  if (!filename.endsWith('.ts')) return next(url, context)
  const { code, errors } = transformSync(filename, await readFile(filename, 'utf8'), { target: 'es2022' })
  if (errors.length) throw new Error(`${filename}: ${errors[0].message}`)
  const plain = code.replaceAll('import.meta.env', '({PROD:false})')
  return module(
    filename.endsWith('.svelte.ts') ? compileModule(plain, { filename, generate: 'client', dev: false }).js.code : plain,
  )
}
