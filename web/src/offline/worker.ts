/** Keeps the interface itself on the device, so that a reload without signal still opens it. Answers of the API are not its business, but for photos. */
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";

declare const self: ServiceWorkerGlobalScope;

/** Every file of this build, with the page; written in by the build. */
declare const __SHELL__: { url: string; revision: string | null }[];

// The page comes fresh while there is signal; the kept one where there is none.
registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      try {
        return await fetch(request);
      } catch {
        return (await matchPrecache("/")) ?? Response.error();
      }
    },
    { denylist: [/^\/(api|admin|static)\//] },
  ),
);

// The core comes in the background and is kept once it runs: the version in use, and no other.
const CORE = "core";
const MADE = "/core.json";
const isCore = (path: string): boolean =>
  path.startsWith("/assets/python-") || path.startsWith("/assets/core-");

registerRoute(
  ({ url }) => url.origin === location.origin && isCore(url.pathname),
  async ({ request }) => (await caches.match(request.url, { cacheName: CORE })) ?? fetch(request),
);
registerRoute(
  ({ url }) => url.origin === location.origin && url.pathname === MADE,
  async ({ request }) => {
    try {
      return await fetch(request);
    } catch {
      return (await caches.match(MADE, { cacheName: CORE })) ?? Response.error();
    }
  },
);

// Photos never change: what was shown once is shown again without signal. Whoever signs out takes them along.
const PHOTOS = "photos";

registerRoute(
  ({ url }) => url.origin === location.origin && url.pathname.startsWith("/api/v1/photos/"),
  async ({ request }) => {
    const cache = await caches.open(PHOTOS);
    const kept = await cache.match(request.url);
    if (kept) return kept;
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request.url, answer.clone());
    return answer;
  },
);

async function keepCore(files: string[]): Promise<void> {
  const cache = await caches.open(CORE);
  const wanted = new Set(files.map((file) => new URL(file, location.origin).href));
  for (const url of wanted) {
    if (!(await cache.match(url))) await cache.add(url);
  }
  await cache.add(MADE);
  wanted.add(new URL(MADE, location.origin).href);
  for (const kept of await cache.keys()) {
    if (!wanted.has(kept.url)) await cache.delete(kept);
  }
}

self.addEventListener("message", (event: ExtendableMessageEvent) => {
  const made = (event.data as { keepCore?: { files: string[] } } | null)?.keepCore;
  if (made) event.waitUntil(keepCore(made.files));
});

precacheAndRoute(__SHELL__);
cleanupOutdatedCaches();

self.addEventListener("install", () => void self.skipWaiting());
self.addEventListener("activate", (event) => {
  event.waitUntil(self.clients.claim());
});
