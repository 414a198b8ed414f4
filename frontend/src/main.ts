import { mount } from 'svelte';

import { onAnswer } from '$lib/api/client';
import { link } from '$lib/offline/link.svelte';

import { account } from '$lib/state/account.svelte';

import { pack } from '$lib/offline/pack.svelte';

import App from './App.svelte';
import '$lib/ui/dialogs';
import '$lib/ui/motion';
import './app.css';

// A link that shows a boat: what it brings stands behind the #, and is kept for this tab.
if (location.pathname === '/shared') {
  account.look(location.hash.slice(1));
  history.replaceState(null, '', '/');
}
const target = document.getElementById('app');
if (target) mount(App, { target });
onAnswer((keptAt) => (link.keptAt = keptAt));
void account.load().then((stays) => {
  if (stays) link.begin();
});
pack.by(async (setupId) => (await import('./pack')).takeAlong(setupId));
// The page's own files and last answers, for when there is no network; not while it is being worked on.
if (import.meta.env.PROD && 'serviceWorker' in navigator)
  void navigator.serviceWorker.register('/sw.js').catch(() => undefined);
