<script lang="ts">
  import { replace } from 'svelte-spa-router'
  import { Refusal } from '../../api/client'
  import { useMe } from '../../api/queries.svelte'
  import Loading from '../../ui/Loading.svelte'

  const me = useMe()
  $effect(() => {
    if (me.error instanceof Refusal && me.error.status === 401) void replace('/sign-in')
    if (!me.data) return
    const farms = me.data.farms
    const last = farms.find((f) => f.id === localStorage.getItem('fjell.farm')) ?? farms[0]
    void replace(last ? `/f/${last.id}/today` : '/farms/new')
  })
</script>

<Loading error={me.error} what="your farms" />
