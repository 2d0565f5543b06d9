import { ExpirationPlugin } from 'workbox-expiration';
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst } from 'workbox-strategies';

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: Parameters<typeof precacheAndRoute>[0] };

// the application itself, whole: what of it has not been opened yet opens without signal too
cleanupOutdatedCaches();
precacheAndRoute(self.__WB_MANIFEST);
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/api\//] }));

// a picture never changes under its id; what else the server says is kept by the page, which knows whose it is
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && /^\/api\/jobs\/[^/]+\/pictures\/[^/]+$/.test(url.pathname),
  new CacheFirst({ cacheName: 'katharos-pictures', plugins: [new ExpirationPlugin({ maxEntries: 200 }) as object] }),
);

/**
 * A newer version takes over when the page asks, and no other is open: the others still run the scripts of theirs. It
 * answers with how many others there are.
 */
async function takeOver(answer: MessagePort | undefined): Promise<void> {
  const pages = await self.clients.matchAll({ type: 'window', includeUncontrolled: true });
  answer?.postMessage(pages.length - 1);
  if (pages.length <= 1) await self.skipWaiting();
}
self.addEventListener('message', (e) => {
  if ((e.data as { type?: unknown } | null)?.type === 'take-over') e.waitUntil(takeOver(e.ports[0]));
});
self.addEventListener('activate', (e) => {
  e.waitUntil(self.clients.claim());
});
