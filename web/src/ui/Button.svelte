<script lang="ts">
  import FlowbiteButton from 'flowbite-svelte/Button.svelte'
  import type { Snippet } from 'svelte'

  interface Props {
    kind?: 'main' | 'plain' | 'quiet' | 'danger'
    type?: 'button' | 'submit'
    disabled?: boolean
    wide?: boolean
    title?: string
    label?: string
    pressed?: boolean
    onclick?: (e: MouseEvent) => void
    children: Snippet
  }
  let {
    kind = 'plain',
    type = 'button',
    disabled = false,
    wide = false,
    title,
    label,
    pressed,
    onclick,
    children,
  }: Props = $props()

  const dress = {
    main: 'bg-tarn text-on-tarn hover:bg-tarn-deep',
    plain: 'bg-surface text-tarn border-2 border-tarn hover:bg-tarn-wash hover:text-tarn-deep',
    quiet: 'bg-transparent text-tarn border-0 hover:bg-tarn-wash hover:text-tarn-deep px-3',
    danger: 'bg-surface text-stop border-2 border-stop hover:bg-stop-wash hover:text-stop',
  }
</script>

<FlowbiteButton
  {type}
  {disabled}
  {title}
  aria-label={label}
  aria-pressed={pressed}
  class="no-print {dress[kind]} {wide ? 'w-full' : ''} {pressed ? 'bg-tarn-wash' : ''}"
  {onclick}
>
  {@render children()}
</FlowbiteButton>
