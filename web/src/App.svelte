<script lang="ts">
  import { QueryClientProvider } from '@tanstack/svelte-query'
  import { ThemeProvider } from 'flowbite-svelte'
  import Router from 'svelte-spa-router'
  import { wrap } from 'svelte-spa-router/wrap'
  import { queries } from './api/queries.svelte'
  import SignIn from './places/entry/SignIn.svelte'
  import SignInHere from './places/entry/SignInHere.svelte'
  import Start from './places/entry/Start.svelte'
  import { house } from './ui/house.svelte'
  import Keys from './ui/Keys.svelte'
  import Notice from './ui/Notice.svelte'
  import Question from './ui/Question.svelte'
  import { parts } from './ui/parts'

  const place = (load: () => Promise<{ default: never }>) => wrap({ asyncComponent: load as never })
  const routes = {
    '/': Start,
    '/sign-in': SignIn,
    '/join/:token': place(() => import('./places/entry/Link.svelte') as never),
    '/password/:token': place(() => import('./places/entry/Link.svelte') as never),
    '/sums/:sum?': place(() => import('./places/pocket/Pocket.svelte') as never),
    '/farms/new': place(() => import('./places/farm/NewFarm.svelte') as never),
    '/f/:farm/today': place(() => import('./places/today/Today.svelte') as never),
    '/f/:farm/land': place(() => import('./places/land/Land.svelte') as never),
    '/f/:farm/stock': place(() => import('./places/stock/Stock.svelte') as never),
    '/f/:farm/walk': place(() => import('./places/walk/Walk.svelte') as never),
    '/f/:farm/queue': place(() => import('./places/queue/Queue.svelte') as never),
    '/f/:farm/moves': place(() => import('./places/moves/Moves.svelte') as never),
    '/f/:farm/year': place(() => import('./places/year/Year.svelte') as never),
    '/handover/:token': place(() => import('./places/entry/HandoverCard.svelte') as never),
    '/emergency': place(() => import('./places/entry/KeptCard.svelte') as never),
    '/f/:farm/emergency': place(() => import('./places/farm/Emergency.svelte') as never),
    '/f/:farm/farm': place(() => import('./places/farm/FarmPlace.svelte') as never),
    '*': Start,
  }
</script>

<QueryClientProvider client={queries}>
  <ThemeProvider theme={parts}>
    <div class="contents" inert={house.signedOut}>
      <Router {routes} />
      <Keys />
      <Notice />
      <Question />
    </div>
    <SignInHere />
  </ThemeProvider>
</QueryClientProvider>
