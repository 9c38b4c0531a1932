// Keeps the pages of the bench and the weigh-out on the device, as they were last
// seen: they open while the program is out of reach. Everything else asks the program.
const version = '{{VERSION}}';
const pages = /^\/(bench|benches\/\d+|weighings\/\d+)$/;

self.addEventListener('install', () => self.skipWaiting());
self.addEventListener('activate', (e) => e.waitUntil((async () => {
  for (const name of await caches.keys()) if (name !== version) await caches.delete(name);
  await self.clients.claim();
})()));

async function fresh(request) {
  const answer = await fetch(request);
  if (answer.ok && !answer.redirected) (await caches.open(version)).put(request, answer.clone());
  return answer;
}

self.addEventListener('fetch', (e) => {
  const { pathname } = new URL(e.request.url);
  const page = e.request.mode === 'navigate' && pages.test(pathname);
  if (e.request.method !== 'GET' || !(page || pathname.startsWith('/static/'))) return;
  e.respondWith((async () => {
    try { return await fresh(e.request); } catch (gone) {
      const kept = await caches.match(e.request, { ignoreSearch: true, ignoreVary: true });
      if (kept) return kept;
      throw gone;
    }
  })());
});

// A device that was sent away keeps nothing.
self.addEventListener('message', (e) => {
  if (e.data === 'forget') e.waitUntil((async () => { for (const name of await caches.keys()) await caches.delete(name); })());
});
