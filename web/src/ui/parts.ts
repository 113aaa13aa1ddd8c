import type { ThemeConfig } from 'flowbite-svelte/types'

// How the library's parts wear Fjell's tokens. Everything else about them is in theme.css.
export const parts: ThemeConfig = {
  button: {
    base: 'rounded-xl font-semibold min-h-12 px-4 py-2 text-base leading-tight focus-within:ring-0 disabled:opacity-50 disabled:cursor-not-allowed',
  },
  modal: {
    base: 'bg-surface text-ink rounded-2xl border border-line shadow-xl',
    header: 'text-ink border-line text-xl font-bold',
    body: 'text-ink text-base leading-normal',
    footer: 'border-line',
  },
}
