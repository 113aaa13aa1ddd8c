<script lang="ts">
  import type { Question } from '../api/question.svelte'

  // Why a question has no answer, where none of the fields that are shown says so.
  let { question, shown }: { question: Question<unknown>; shown: string[] } = $props()
  const said = $derived(question.beside(...shown))
</script>

{#if said}<p class="text-stop" role="alert">{said}</p>{/if}
