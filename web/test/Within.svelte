<script lang="ts">
  import { QueryClientProvider, type QueryClient } from '@tanstack/svelte-query'
  import type { Component } from 'svelte'

  // A component as the app has it: with the answers of the farm around it.
  let { client, of: Of }: { client: QueryClient; of: Component } = $props()
</script>

<QueryClientProvider {client}><Of /></QueryClientProvider>
