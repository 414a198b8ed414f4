/// <reference lib="webworker" />
/** The page without network: its own files, and the answers that it was last given. */
import { ExpirationPlugin } from 'workbox-expiration';
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { NetworkFirst } from 'workbox-strategies';

import { isAsking, KEPT, nameOf } from '$lib/offline/answers';

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string; revision: string | null }[] };

/** So long an answer is waited for that was given before: a network may be there and carry nothing. */
const PATIENCE_S = 5;
const MOST_KEPT = 600;
/** A browser that is never online again learns of no sign-out: what it keeps of somebody ends by itself. */
const LONGEST_S = 14 * 86_400;
/** Counts up when somebody signs out: an answer that was asked for before is theirs, and is not kept any more. */
let era = 0;
/** Of a program that is being started again, which is as good as none. */
const AWAY = [502, 503];

precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();
// The way to pair is asked of the machine each time.
registerRoute(
  new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/api\//, /^\/pair/, /^\/handbook/] }),
);

const ANSWERS = 'kunstflug-answers-1';
const answers = new NetworkFirst({
  cacheName: ANSWERS,
  networkTimeoutSeconds: PATIENCE_S,
  plugins: [
    {
      cacheKeyWillBeUsed: async ({ params }) => (params as { name: string }).name,
      fetchDidSucceed: async ({ response, state }) => {
        if (!AWAY.includes(response.status)) return response;
        if (state) state.away = response;
        throw new Error('away');
      },
      handlerWillStart: async ({ state }) => {
        if (state) state.era = era;
      },
      cacheWillUpdate: async ({ response, state }) =>
        response.status === 200 && state?.era === era ? stamped(response) : null,
      // Nothing was kept: what the program said of itself is better than nothing.
      handlerDidError: async ({ state }) => state?.away as Response | undefined,
    },
    new ExpirationPlugin({ maxEntries: MOST_KEPT, maxAgeSeconds: LONGEST_S }),
  ],
});

async function stamped(answer: Response): Promise<Response> {
  const headers = new Headers(answer.headers);
  headers.set(KEPT, new Date().toISOString());
  return new Response(await answer.blob(), { status: answer.status, headers });
}

for (const method of ['GET', 'POST'] as const)
  registerRoute(
    ({ request, url, sameOrigin }) => sameOrigin && isAsking(request.method, url.pathname),
    async ({ request, event }) => answers.handle({ request, event, params: { name: await nameOf(request) } }),
    method,
  );

self.addEventListener('message', (event: ExtendableMessageEvent) => {
  if (event.data !== 'forget') return;
  era += 1;
  event.waitUntil(caches.delete(ANSWERS).then(() => event.ports[0]?.postMessage('forgotten')));
});
self.addEventListener('install', () => void self.skipWaiting());
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));
