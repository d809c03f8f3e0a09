// Pages without signal: each page is asked of the server first, and what came last is shown where nothing comes. What is changed
// on such a page is kept by the page's own outbox.
const PAGES = "rowan-pages";
const SHIPPED = "rowan-shipped";
const MOST_PAGES = 60;
const HASHED = /\.[0-9a-f]{12}\.\w+$/; // a shipped file of this name never changes

// what is sent from a plan, and what its scripts ask for, goes past this worker where a browser can be told so: it does nothing
// with them, and after a pause it would have to be woken first
const PAST = ["POST", "GET"].map((requestMethod) => ({
  condition: { urlPattern: { pathname: "/jobs/*" }, requestMethod, ...(requestMethod === "GET" && { requestMode: "cors" }) },
  source: "network",
}));

self.addEventListener("install", (event) => {
  self.skipWaiting();
  // one that knows other conditions refuses them: pages without signal matter more than the way past
  if (event.addRoutes) event.waitUntil(event.addRoutes(PAST).catch(() => {}));
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function keep(name, request, answer) {
  const shelf = await caches.open(name);
  await shelf.put(request, answer);
  if (name !== PAGES) return;
  const kept = await shelf.keys();
  for (const old of kept.slice(0, Math.max(kept.length - MOST_PAGES, 0))) await shelf.delete(old);
}

async function shipped(request) {
  if (HASHED.test(new URL(request.url).pathname)) {
    const kept = await caches.match(request, { cacheName: SHIPPED });
    if (kept) return kept;
  }
  try {
    const answer = await fetch(request);
    if (answer.ok) await keep(SHIPPED, request, answer.clone());
    return answer;
  } catch (error) {
    const kept = await caches.match(request, { cacheName: SHIPPED });
    if (kept) return kept;
    throw error;
  }
}

const escaped = (text) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

// the server puts the words of whoever asked for this script before it
const said = (message) => self.rowanWords?.[message] ?? message;

// a page that was never opened here: what was, is named
async function notHere() {
  const kept = await (await caches.open(PAGES)).keys();
  const links = kept.reverse().map(({ url }) => `<li><a href="${escaped(url)}">${escaped(new URL(url).pathname)}</a></li>`);
  const page = `<!DOCTYPE html><html lang="${self.rowanLanguage || "en"}"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${said("No connection")} · Rowan</title><main><h1>${said("No connection")}</h1><p>${said("This page was not opened here before. These were:")}</p><ul>${links.join("")}</ul></main></html>`;
  return new Response(page, { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } });
}

async function page(request) {
  try {
    const answer = await fetch(request);
    if (answer.ok && !answer.redirected && answer.headers.get("Content-Type")?.startsWith("text/html")) await keep(PAGES, request.url, answer.clone());
    return answer;
  } catch {
    const kept = await caches.match(request.url, { cacheName: PAGES });
    if (!kept) return notHere();
    const text = await kept.text();
    const marked = text.replace("<body ", `<body data-kept-at="${escaped(kept.headers.get("Date") || "")}" `);
    return new Response(marked, { status: 200, headers: kept.headers });
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== self.location.origin) return;
  // whoever signs out, or in, leaves nothing of themselves to the next person at this device
  if (request.method === "POST" && /^\/sign-(in|out)\/$/.test(url.pathname)) event.waitUntil(caches.delete(PAGES));
  if (request.method !== "GET") return;
  if (url.pathname.startsWith("/static/")) event.respondWith(shipped(request));
  else if (request.mode === "navigate") event.respondWith(page(request));
});
