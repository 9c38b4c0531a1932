// Keeps the pages of the bench and the weigh-out on the device, as they were last
// seen: they open while the program is out of reach. Everything else asks the program.
const version = '{{VERSION}}';
const pages = /^\/(bench|benches\/\d+|weighings\/\d+)$/;

self.addEventListener('install', () => self.skipWaiting());
self.addEventListener('activate', (e) => e.waitUntil((async () => {
  for (const name of await caches.keys()) if (name !== version) await caches.delete(name);
  await self.clients.claim();
})()));

// A device that is let in no longer keeps nothing: at once when it is told so, after a
// day when it has heard nothing.
const seen = '/~seen';
const day = 24 * 3600 * 1000;
async function forget() { for (const name of await caches.keys()) await caches.delete(name); }

async function fresh(request) {
  const answer = await fetch(request);
  if (answer.status === 401 || answer.type === 'opaqueredirect') await forget(); // led away from a page of its own
  else if (answer.ok && !answer.redirected) {
    const cache = await caches.open(version);
    await cache.put(request, answer.clone());
    await cache.put(seen, new Response(String(Date.now())));
  }
  return answer;
}

async function kept(request) {
  const at = await (await caches.match(seen))?.text();
  if (!at || Date.now() - Number(at) > day) { await forget(); return null; }
  return caches.match(request, { ignoreSearch: true, ignoreVary: true });
}

self.addEventListener('fetch', (e) => {
  const { pathname } = new URL(e.request.url);
  const page = e.request.mode === 'navigate' && pages.test(pathname);
  if (e.request.method !== 'GET' || !(page || pathname.startsWith('/static/'))) return;
  e.respondWith((async () => {
    try { return await fresh(e.request); } catch (gone) {
      const page = await kept(e.request);
      if (page) return page;
      throw gone;
    }
  })());
});

self.addEventListener('message', (e) => { if (e.data === 'forget') e.waitUntil(forget()); });
