// Keeps the jobs in hand readable while the workshop cannot be reached: pages as they were last seen, and the parts
// that every page needs. What the workshop answers always comes first. Nothing is kept once somebody is signed out.
const PARTS = "parts", PAGES = "pages", OUT_OF_REACH = "/out-of-reach";
const MOST_PAGES = 400, MOST_STEPS = 60, FRESH_MS = 5 * 60 * 1000;
const KEPT = /^\/($|jobs\/\d+(\/(STAGES|tally))?$)/;
const TALLY = /href="(\/jobs\/\d+\/tally[^"]*)"/, NEXT = /id="tally-on"[^>]*?href="([^"]+)"/s;
const JOB = /^\/jobs\/\d+(?=\/|$)/;
// What an address may say without changing the count or the rivet: its page may be answered by the one without.
const LOOKS = ["ring", "cog", "travel", "near", "counted", "step"];
const fetched = new Map();
let forgotten = 0;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

const forget = async () => { forgotten += 1; fetched.clear(); await caches.delete(PAGES); };
const isPage = (answer) => answer.ok && !answer.redirected && (answer.headers.get("content-type") ?? "").startsWith("text/html");

const revisionOf = (answer) => answer?.headers.get("Job-Revision") ?? "";

// Lets go of what is kept of a job at another revision than this one: it may name another rivet.
async function letGo(path, revision) {
  const job = path.match(JOB)?.[0];
  if (!job) return;
  const pages = await caches.open(PAGES);
  for (const one of await pages.keys()) {
    if (new URL(one.url).pathname.match(JOB)?.[0] !== job) continue;
    if (revisionOf(await pages.match(one)) === revision) continue;
    fetched.delete(one.url);
    await pages.delete(one);
  }
}

async function keep(url, answer) {
  const pages = await caches.open(PAGES);
  await pages.put(url, answer);
  const kept = await pages.keys();
  await Promise.all(kept.slice(0, Math.max(kept.length - MOST_PAGES, 0)).map((one) => pages.delete(one)));
}

// Keeps a page that was seen, and nothing older of its job; of a part of a page only the revision is known. What was
// asked for before all was forgotten is not kept any more.
async function seen(url, revision, whole, since) {
  if (since === forgotten) await letGo(url.pathname, revision);
  if (whole && since === forgotten) await keep(url.href, whole);
}

// Fetches what is shown in place of a page that is not kept, once.
async function keepOutOfReach() {
  const since = forgotten;
  if (await caches.match(OUT_OF_REACH)) return;
  const answer = await fetch(OUT_OF_REACH, { credentials: "same-origin", redirect: "manual" }).catch(() => undefined);
  if (answer?.status === 503 && since === forgotten) await keep(OUT_OF_REACH, answer);
}

// Fetches a page to be kept, and from the cut the whole count-along behind it, step by step.
async function keepAhead(path, steps = MOST_STEPS) {
  const url = new URL(path, self.location.origin).href, now = Date.now(), since = forgotten;
  if (!steps || now - (fetched.get(url) ?? 0) < FRESH_MS) return;
  fetched.set(url, now);
  // Nobody counts along where a page is fetched for later, and the other tablets are not told so.
  const asked = { credentials: "same-origin", redirect: "manual", headers: { Purpose: "prefetch" } };
  const answer = await fetch(url, asked).catch(() => undefined);
  if (!answer || !isPage(answer)) { fetched.delete(url); return; }
  await seen(new URL(url), revisionOf(answer), answer.clone(), since);
  const next = (await answer.text()).match(path.includes("/tally") ? NEXT : TALLY);
  if (next) await keepAhead(next[1].replaceAll("&amp;", "&"), steps - 1);
}

async function page(event, url) {
  const { request } = event, since = forgotten;
  try {
    const answer = await fetch(request);
    if (url.pathname === "/sign-in") await forget();
    else if (isPage(answer) && KEPT.test(url.pathname)) {
      const whole = request.headers.has("HX-Request") ? undefined : answer.clone();
      event.waitUntil(seen(url, revisionOf(answer), whole, since)); // the page does not wait for it
    }
    return answer;
  } catch (error) {
    const pages = await caches.open(PAGES);
    const onlyLooks = [...url.searchParams.keys()].every((name) => LOOKS.includes(name));
    const ways = onlyLooks ? [url.href, url.origin + url.pathname, `${url.origin}${url.pathname}/cut`] : [url.href];
    for (const way of ways) {
      const kept = await pages.match(way);
      if (!kept) continue;
      return request.headers.has("HX-Request") ? new Response(null, { status: 200, headers: { "HX-Redirect": url.href } }) : kept;
    }
    const away = request.mode === "navigate" && await pages.match(OUT_OF_REACH);
    if (away) return away;
    throw error;
  }
}

async function part(request) {
  const parts = await caches.open(PARTS);
  try {
    const answer = await fetch(request);
    if (answer.ok) await parts.put(request, answer.clone());
    return answer;
  } catch (error) {
    const kept = await parts.match(request);
    if (kept) return kept;
    throw error;
  }
}

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (url.origin !== self.location.origin) return;
  if (event.request.method === "POST" && url.pathname === "/sign-out") event.waitUntil(forget());
  if (event.request.method !== "GET") return;
  if (url.pathname.startsWith("/static/")) event.respondWith(part(event.request));
  else if (KEPT.test(url.pathname) || event.request.mode === "navigate") event.respondWith(page(event, url));
});

self.addEventListener("message", (event) => {
  const { job, revision, keep: asked } = event.data ?? {};
  const wanted = (asked ?? []).filter((path) => typeof path === "string" && KEPT.test(path));
  event.waitUntil((async () => {
    if (typeof job === "string") await letGo(job, revision);
    for (const path of wanted) await keepAhead(path);
    if (wanted.length) await keepOutOfReach();
  })());
});
