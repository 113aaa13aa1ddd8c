<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte'
  import type { Snippet } from 'svelte'

  interface Props {
    open: boolean
    title: string
    size?: 'sm' | 'md' | 'lg'
    children: Snippet
    foot?: Snippet
  }
  let { open = $bindable(), title, size = 'md', children, foot }: Props = $props()
</script>

<Modal bind:open {title} {size} transitionParams={{ duration: 80 }}>
  {@render children()}
  {#if foot}
    <div class="flex flex-wrap justify-end gap-3 pt-2">{@render foot()}</div>
  {/if}
</Modal>
