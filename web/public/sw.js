// Keeps the product's own page, scripts and fonts at hand, so that a reload without a server shows
// it. Nothing of the API is ever kept: no certificate and no answer stays on a shared tablet.
const SHELF = "shell";

const keep = async () => {
  const shelf = await caches.open(SHELF);
  const page = await fetch("/", { cache: "no-store" });
  const listed = await fetch("/shell.json", { cache: "no-store" });
  if (!page.ok || !listed.ok) return;
  const { files } = await listed.json();
  const have = new Set((await shelf.keys()).map((r) => new URL(r.url).pathname));
  const fixed = (file) => file.startsWith("/assets/");
  await shelf.addAll(files.filter((file) => !have.has(file) || !fixed(file)));
  await shelf.put("/", page);
  const wanted = new Set(["/", ...files]);
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
    return (await caches.match("/")) ?? Response.error();
  }
};

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith("/api/")) return;
  if (event.request.mode === "navigate") event.respondWith(page(event.request));
  else event.respondWith(caches.match(event.request).then((at) => at ?? fetch(event.request)));
});
