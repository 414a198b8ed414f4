/// <reference lib="webworker" />
/** The page without network: its own files, and the answers that it was last given. */
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';

import { answered, isAsking, MOST_KEPT } from '$lib/offline/answers';

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string; revision: string | null }[] };

const ANSWERS = 'kunstflug-answers-1';
const TIDY_EVERY = 40;

precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();
// The way to pair is asked of the machine each time.
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/api\//, /^\/pair/] }));

let kept = 0;
registerRoute(
  ({ request, url, sameOrigin }) => sameOrigin && isAsking(request.method, url.pathname),
  async ({ request }) => {
    const cache = await caches.open(ANSWERS);
    const answer = await answered(request, cache, (asked) => fetch(asked));
    if (++kept % TIDY_EVERY === 0) void tidy(cache);
    return answer;
  },
  'GET',
);
registerRoute(
  ({ request, url, sameOrigin }) => sameOrigin && isAsking(request.method, url.pathname),
  async ({ request }) => answered(request, await caches.open(ANSWERS), (asked) => fetch(asked)),
  'POST',
);

/** The oldest answers go first. */
async function tidy(cache: Cache): Promise<void> {
  const names = await cache.keys();
  for (const name of names.slice(0, Math.max(names.length - MOST_KEPT, 0))) await cache.delete(name);
}

self.addEventListener('install', () => void self.skipWaiting());
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));
