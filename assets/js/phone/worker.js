// Keeps the pages of a workout, so that it opens without a signal. What it goes through is kept by the page itself.
const PAGES = "bavrek-pages-1";
const SLOW = 4000;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

// What never changes under its address is taken from what is kept.
async function kept(request) {
  const cache = await caches.open(PAGES);
  const found = await cache.match(request);
  if (found) return found;
  const answer = await fetch(request);
  if (answer.ok) await cache.put(request, answer.clone());
  return answer;
}

// A page is asked for anew; without a signal, or where it is slow in coming, the kept one is shown.
async function newest(request) {
  const cache = await caches.open(PAGES);
  const asking = fetch(request).then(async (answer) => {
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  });
  const found = await cache.match(request, { ignoreSearch: true });
  if (!found) return asking;
  const slow = new Promise((resolve) => setTimeout(() => resolve(found), SLOW));
  return Promise.race([asking.catch(() => found), slow]);
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  if (url.pathname.startsWith("/assets/") || url.pathname === "/favicon.ico") event.respondWith(kept(request));
  else if (request.mode === "navigate" || url.pathname.endsWith(".webmanifest")) event.respondWith(newest(request));
});

// The first visit happens before there is anybody to keep it: the page says what it is made of.
self.addEventListener("message", (event) => {
  const addresses = event.data?.keep ?? [];
  event.waitUntil(
    caches.open(PAGES).then((cache) =>
      Promise.all(
        addresses.map(async (address) => {
          if (!(await cache.match(address))) await cache.add(address).catch(() => {});
        }),
      ),
    ),
  );
});
