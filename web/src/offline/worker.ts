/** Keeps the interface itself on the device, so that a reload without signal still opens it. Answers of the API are not its business. */
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
precacheAndRoute(__SHELL__);
cleanupOutdatedCaches();

self.addEventListener("install", () => void self.skipWaiting());
self.addEventListener("activate", (event) => {
  event.waitUntil(self.clients.claim());
});
