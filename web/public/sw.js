// Keeps the product's own page, scripts and fonts at hand, so that a reload without a server shows
// it. Nothing of the API is ever kept: no certificate and no answer stays on a shared tablet.
const SHELF = "shell";
const HOME = self.registration.scope;
const at = (path) => new URL(path, HOME).href;

const keep = async () => {
  const shelf = await caches.open(SHELF);
  const page = await fetch(HOME, { cache: "no-store" });
  const listed = await fetch(at("shell.json"), { cache: "no-store" });
  if (!page.ok || !listed.ok) return;
  const files = (await listed.json()).files.map(at);
  const have = new Set((await shelf.keys()).map((r) => r.url));
  const fixed = (file) => file.startsWith(at("assets/"));
  await shelf.addAll(files.filter((file) => !have.has(file) || !fixed(file)));
  await shelf.put(HOME, page);
  const wanted = new Set([HOME, ...files]);
  for (const old of have) if (!wanted.has(old)) await shelf.delete(old);
};

self.addEventListener("install", (event) => {
  self.skipWaiting();
  event.waitUntil(keep());
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

/** The page as the server has it now; the one at hand where it does not answer. */
const page = async (request) => {
  try {
    const now = await fetch(request);
    if (now.ok) void keep().catch(() => undefined);
    return now;
  } catch {
    return (await caches.match(HOME)) ?? Response.error();
  }
};

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== self.location.origin) return;
  if (!url.href.startsWith(HOME) || url.href.startsWith(at("api/"))) return;
  if (event.request.mode === "navigate") event.respondWith(page(event.request));
  else event.respondWith(caches.match(event.request).then((at) => at ?? fetch(event.request)));
});
