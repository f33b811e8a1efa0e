import type { Pushed } from "#core/notices/push";

/**
 * Keeps what the recorder's own page needs, so that it opens without a connection, also in a browser that was just
 * started. It keeps that one page as nobody sees it, and no other: nothing of a person is in it. All that it does to
 * other pages is to lead to that one when they cannot be reached. And it tells its person what is new, where they want
 * that, and no page needs to be open.
 */
const worker = self as unknown as ServiceWorkerGlobalScope;
/** Files of this build that the page may ask for, and a name for all of them. Written by the build. */
declare const SHELL_FILES: string[];
declare const SHELL_NAME: string;

const PAGE = "/here";
/** Too large for everybody: kept by whoever has used it, over all versions. */
const SEEN_ONCE = /^\/(?:vision|speech)\//;
const SEEN = "seen";
const OURS = "shell-";
const CACHE = OURS + SHELL_NAME;

worker.addEventListener("install", (event) => event.waitUntil(keep()));
worker.addEventListener("activate", (event) => event.waitUntil(begin()));
worker.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (origin !== worker.location.origin || request.method !== "GET") return;
  if (request.mode === "navigate") event.respondWith(opened(event, pathname));
  else if (SEEN_ONCE.test(pathname)) event.respondWith(seen(request));
  else if (pathname.startsWith("/assets/") || SHELL_FILES.includes(pathname)) event.respondWith(file(request));
});

worker.addEventListener("push", (event) => event.waitUntil(tell(event.data!.json() as Pushed)));
worker.addEventListener("notificationclick", (event) => {
  event.notification.close();
  event.waitUntil(open(event.notification.data as string));
});

/** All of it or nothing: where one file is missing, the version before stays. */
async function keep(): Promise<void> {
  const cache = await caches.open(CACHE);
  const page = await fetched(PAGE);
  const named = (await page.clone().text()).match(/\/assets\/[\w.-]+/g) ?? [];
  for (const name of new Set([...SHELL_FILES, ...named])) {
    // What has a hash in its name is the same in every version.
    const had = name.startsWith("/assets/") ? await caches.match(name) : undefined;
    await cache.put(name, had ?? (await fetched(name)));
  }
  await cache.put(PAGE, page);
}

/** Without cookies: as nobody sees it. */
async function fetched(name: string): Promise<Response> {
  const answer = await fetch(name, { credentials: "omit", cache: "no-cache" });
  if (!answer.ok) throw new Error(`${name} was answered with ${answer.status}`);
  return answer;
}

async function begin(): Promise<void> {
  for (const name of await caches.keys()) if (name.startsWith(OURS) && name !== CACHE) await caches.delete(name);
  // The page is asked for while this worker starts.
  await worker.registration.navigationPreload?.enable();
}

async function opened({ request, preloadResponse }: FetchEvent, pathname: string): Promise<Response> {
  try {
    return ((await preloadResponse) as Response | undefined) ?? (await fetch(request));
  } catch (error) {
    if (pathname !== PAGE) return Response.redirect(PAGE);
    const page = await caches.match(PAGE);
    if (!page) throw error;
    return page;
  }
}

async function seen(request: Request): Promise<Response> {
  const cache = await caches.open(SEEN);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  } catch (error) {
    const had = await cache.match(request);
    if (!had) throw error;
    return had;
  }
}

const file = async (request: Request): Promise<Response> => (await caches.match(request)) ?? fetch(request);

/** Told again, it stands there once. */
async function tell({ id, title, body, url }: Pushed): Promise<void> {
  await worker.registration.showNotification(title, { body, tag: id, data: url, icon: "/icons/app-192.png" });
  const headers = { "content-type": "application/json" };
  // Where this is not heard, it is mailed as well.
  await fetch("/shown", { method: "POST", headers, body: JSON.stringify({ id }) }).catch(() => undefined);
}

/** In the page that shows it already, or in one of its own: others may be in the middle of something. */
async function open(url: string): Promise<void> {
  const pages = await worker.clients.matchAll({ type: "window" });
  const page = pages.find((one) => one.url === url);
  if (page) await page.focus();
  else await worker.clients.openWindow(url);
}
