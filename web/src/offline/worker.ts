/** Keeps the interface itself on the device, so that a reload without signal still opens it. Answers of the API are not its business. */
export type {};

declare const self: ServiceWorkerGlobalScope;

const SHELL = "fentro-shell-1";

self.addEventListener("install", (event) => {
  event.waitUntil(fetch("/").then(keepShell));
  void self.skipWaiting();
});

self.addEventListener("activate", (event) => {
  event.waitUntil(self.clients.claim());
});

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== self.location.origin) return;
  if (/^\/(api|admin|static)\//.test(url.pathname)) return;
  if (event.request.mode === "navigate") event.respondWith(page(event.request));
  else event.respondWith(file(event.request));
});

async function page(request: Request): Promise<Response> {
  const cache = await caches.open(SHELL);
  try {
    const fresh = await fetch(request);
    if (fresh.ok) void keepShell(fresh.clone()).catch(() => {});
    return fresh;
  } catch {
    return (await cache.match("/")) ?? Response.error();
  }
}

async function file(request: Request): Promise<Response> {
  const cache = await caches.open(SHELL);
  const known = await cache.match(request);
  if (known) return known;
  const fresh = await fetch(request);
  if (fresh.ok) await cache.put(request, fresh.clone());
  return fresh;
}

/** Keep the page and every file it names, and the fonts its styles name; let go of what older pages named. */
async function keepShell(response: Response): Promise<void> {
  const cache = await caches.open(SHELL);
  const named = (text: string): string[] => text.match(/\/assets\/[\w.-]+/g) ?? [];
  const wanted = new Set(named(await response.clone().text()));
  await cache.put("/", response);
  for (const path of [...wanted]) {
    const got = await file(new Request(path));
    if (path.endsWith(".css")) for (const font of named(await got.clone().text())) wanted.add(font);
  }
  await Promise.all([...wanted].map((path) => file(new Request(path))));
  for (const request of await cache.keys()) {
    const { pathname } = new URL(request.url);
    if (pathname.startsWith("/assets/") && !wanted.has(pathname)) await cache.delete(request);
  }
}
