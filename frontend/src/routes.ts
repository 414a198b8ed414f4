import { createRouter } from 'sv-router';

import { setNavigator } from '$lib/state/go';
import { here } from '$lib/state/here.svelte';
import Layout from '$features/shell/Layout.svelte';
import Home from '$features/shell/Home.svelte';
import Lost from '$features/shell/Lost.svelte';
import Match from '$features/match/Match.svelte';

export const { navigate } = createRouter({
  layout: Layout,
  hooks: {
    beforeLoad({ pathname }) {
      here.pathname = pathname;
    },
  },
  '/': Home,
  '/new': () => import('$features/boats/NewBoat.svelte'),
  '/setups/:id/aim': () => import('$features/aim/Aim.svelte'),
  '/setups/:id/match': Match,
  '/logbook': () => import('$features/logbook/Logbook.svelte'),
  '/shelf': () => import('$features/shelf/Shelf.svelte'),
  '/bin': () => import('$features/bin/Bin.svelte'),
  '/settings': () => import('$features/data/Settings.svelte'),
  '/ponds': () => import('$features/ponds/Ponds.svelte'),
  '/club': () => import('$features/club/Club.svelte'),
  '/measure': () => import('$features/measure/Measure.svelte'),
  '/setups/:id/fit': () => import('$features/fit/Fit.svelte'),
  '/setups/:id/launch': () => import('$features/launch/Launch.svelte'),
  '/setups/:id/run': () => import('$features/run/Run.svelte'),
  '/setups/:id/live': () => import('$features/live/Live.svelte'),
  '/setups/:id/compare': () => import('$features/compare/Compare.svelte'),
  '/setups/:id/trim': () => import('$features/trim/Trim.svelte'),
  '*': Lost,
});

setNavigator((path, how) => void navigate(path as '/', how));
