// The service worker: the shell opens without the server, and what was seen last is shown as such.
// Built by vite.config.ts, which fills in the build and its files.
const BUILD = "__BUILD__";
const FILES = __FILES__;
const SHELL = `ventmap-shell-${BUILD}`;
const SEEN = "ventmap-seen";
/** Answers that are kept to be shown while the server is away: jobs, their steps' grids, who is signed in, words. */
const KEPT =
  /^\/api\/(sessions\/current|jobs|jobs\/[^/]+|jobs\/[^/]+\/(photos|plan|kit|variants|learned|steps\/[^/]+\/grid)|glossary|timers|practice-shop|house-rules)\/?$/;
const WAIT_MS = 4000;

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(SHELL).then((shell) => shell.addAll(["/", ...FILES])));
});

self.addEventListener("activate", (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) =>
        Promise.all(
          names.filter((name) => name !== SHELL && name !== SEEN).map((name) => caches.delete(name)),
        ),
      )
      .then(() => self.clients.claim()),
  );
});

self.addEventListener("message", (event) => {
  if (event.data === "take") void self.skipWaiting();
  // Nobody is signed in any more: what was seen is forgotten.
  if (event.data === "forget") event.waitUntil(caches.delete(SEEN));
});

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  if (request.mode === "navigate") event.respondWith(page(request));
  else if (url.pathname.startsWith("/static/")) event.respondWith(file(request));
  else if (KEPT.test(url.pathname)) event.respondWith(seen(request));
});

async function page(request) {
  const shell = await caches.open(SHELL);
  try {
    return await fetch(request, { signal: AbortSignal.timeout(WAIT_MS) });
  } catch {
    return (await shell.match("/")) ?? Response.error();
  }
}

async function file(request) {
  const kept = await (await caches.open(SHELL)).match(request);
  return kept ?? fetch(request);
}

async function seen(request) {
  const store = await caches.open(SEEN);
  try {
    const answer = await fetch(request);
    if (answer.ok) await store.put(request, answer.clone());
    return answer;
  } catch (error) {
    const kept = await store.match(request);
    if (!kept) throw error;
    const headers = new Headers(kept.headers);
    headers.set("X-Seen", kept.headers.get("Date") ?? "before");
    return new Response(await kept.blob(), { status: kept.status, headers });
  }
}
