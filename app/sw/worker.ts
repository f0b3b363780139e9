import type { Away } from "../routes/device/offline-words";

/**
 * The service worker: Pelagon starts without a network. It keeps the files of this build and one page to
 * start from; what the pages tell and what they are told it never touches.
 */

declare const self: ServiceWorkerGlobalScope;
/** Put in by the build: its name, which sorts by time, and its files. */
declare const BUILD: string;
declare const FILES: string[];

/** The page that registers it says in which language: this worker takes along that one and no other. */
const LANGUAGE = new URL(self.location.href).searchParams.get("language") ?? "en";
const SHELL = `/offline?language=${LANGUAGE}`;
/** What is said where there is nobody to ask. */
const WORDS = `/offline/words?language=${LANGUAGE}`;
const PREFIX = "pelagon ";
const CACHE = `${PREFIX}${BUILD} ${LANGUAGE}`;
/** A server that takes longer is out of reach for a navigation. */
const PATIENCE_MS = 4000;

/** Pages that work from what lies on the device. */
const OFFLINE = [
  /^\/$/,
  /^\/basins\/[0-9a-f-]{36}(\/what-if)?$/,
  /^\/visits\/[0-9a-f-]{36}(\/|$)/,
  /^\/bench$/,
  /^\/practice$/,
  /^\/offline$/,
];
/** Resources below those pages that are none themselves. */
const NO_PAGE = /\/(photos|customer(\.pdf)?|counts|plans|series)(\/|$)/;

self.addEventListener("install", (event) => event.waitUntil(install()));
self.addEventListener("activate", (event) => event.waitUntil(activate()));
self.addEventListener("message", ({ data }) => {
  if (data === "take over") void self.skipWaiting();
});

async function install(): Promise<void> {
  const cache = await caches.open(CACHE);
  // Without cookies: the page to start from is nobody's.
  const shell = await fetch(SHELL, { credentials: "omit", cache: "no-store" });
  const text = await shell.clone().text();
  const entry = FILES.find((file) => /\/entry\.client-/.test(file));
  if (!shell.ok || !entry || !text.includes(entry))
    throw new Error("the page to start from is of another build");
  await Promise.all([cache.put(SHELL, shell), cache.add(WORDS), cache.addAll(FILES.filter(isOurs))]);
}

/** Messages of another language stay where they are. */
function isOurs(file: string): boolean {
  const language = /\/messages-(.+)-.{8}\.js$/.exec(file)?.[1];
  return language === undefined || language === LANGUAGE;
}

/** What this worker says itself, as it was taken along. */
async function away(): Promise<Away | null> {
  const kept = await caches.match(WORDS, { cacheName: CACHE });
  return kept ? ((await kept.json()) as Away) : null;
}

/** This build's files and those of the one before stay: a page of it may still be open. */
async function activate(): Promise<void> {
  const ours = (await caches.keys()).filter((name) => name.startsWith(PREFIX)).sort();
  await Promise.all(ours.slice(0, -2).map((name) => caches.delete(name)));
  await self.registration.navigationPreload?.enable();
  await self.clients.claim();
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (request.mode === "navigate") event.respondWith(navigated(event, url));
  else if (url.pathname.startsWith("/assets/")) event.respondWith(asset(request));
});

/** The server's page when it comes in time; or else the page to start from, or one that says so. */
async function navigated(event: FetchEvent, url: URL): Promise<Response> {
  const asked: Promise<Response> = (async () => (await event.preloadResponse) ?? fetch(event.request))();
  const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE_MS));
  try {
    const answer = await Promise.race([asked, late]);
    if (answer && answer.status < 500) return answer;
  } catch {
    // Nobody there.
  }
  const isOffline = OFFLINE.some((pattern) => pattern.test(url.pathname)) && !NO_PAGE.test(url.pathname);
  const shell = isOffline ? await caches.match(SHELL, { cacheName: CACHE }) : undefined;
  if (shell) return withFreshNonce(shell);
  return asked.catch(() => outOfReach());
}

/** A nonce that was used before is none: the kept page gets another, in its header and in its scripts. */
async function withFreshNonce(kept: Response): Promise<Response> {
  const policy = kept.headers.get("Content-Security-Policy") ?? "";
  const old = /'nonce-([^']+)'/.exec(policy)?.[1];
  if (!old) return kept;
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  const nonce = btoa(String.fromCharCode(...bytes))
    .replaceAll("+", "-")
    .replaceAll("/", "_")
    .replaceAll("=", "");
  const headers = new Headers(kept.headers);
  headers.set("Content-Security-Policy", policy.replaceAll(old, nonce));
  headers.delete("Content-Encoding");
  headers.delete("Content-Length");
  return new Response((await kept.text()).replaceAll(old, nonce), { status: 200, headers });
}

const escaped = (text: string) => text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");

async function outOfReach(): Promise<Response> {
  const said = await away();
  if (!said) return Response.error();
  const { title, text, round, locale } = said;
  return new Response(
    `<!doctype html><html lang="${locale}"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${escaped(title)}</title><body style="margin:2rem auto;max-width:34rem;padding:0 1rem;font:17px/1.45 sans-serif;background:#f6f0e0;color:#1f1b15">
<h1>${escaped(title)}</h1><p>${escaped(text)}</p><p><a href="/" style="color:inherit">${escaped(round)}</a></p>`,
    { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } },
  );
}

/** Files never change under their name: the kept one, of this build or the one before, or else the server's. */
async function asset(request: Request): Promise<Response> {
  const kept = await caches.match(request);
  if (kept) return kept;
  try {
    const answer = await fetch(request);
    if (answer.ok || !isScript(request)) return answer;
  } catch (fault) {
    if (!isScript(request)) throw fault;
  }
  // The router loads a page anew when a part of it is missing, again and again: this part says so instead.
  return new Response(`export default () => ${JSON.stringify((await away())?.missing ?? "")};`, {
    headers: { "Content-Type": "text/javascript" },
  });
}

const isScript = ({ url }: Request): boolean => new URL(url).pathname.endsWith(".js");
