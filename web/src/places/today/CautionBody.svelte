<script lang="ts">
  import type { Schemas } from '../../api/client'

  // What to look for, what is usual against it, and whom to ask. It reminds; it never gives a dose.
  let { caution }: { caution: Schemas['CautionView'] } = $props()
</script>

<p class="mt-1"><span class="font-semibold">Look for:</span> {caution.what_to_watch}</p>
<ul class="mt-1 list-disc pl-5">
  {#each caution.usual_precautions as p, i (i)}<li>{p}</li>{/each}
</ul>
<p class="mt-1 font-semibold">{caution.who_to_ask}</p>
