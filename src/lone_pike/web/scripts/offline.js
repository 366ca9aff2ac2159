// On the shop's network the jobs in hand stay readable while the workshop is out of reach (static/sw.js).
import { jobNow } from "./page.js";

const STAGES = document.body.dataset.offline?.split(" ");
const RESTS_MS = 3000;

// The jobs that this page leads to or shows, each by the pages that are needed at the stand.
function inHand() {
  const jobs = [...document.querySelectorAll('main a[href^="/jobs/"]')].map((link) => link.getAttribute("href").match(/^\/jobs\/\d+/)?.[0]);
  return [...new Set(jobs)].filter(Boolean).flatMap((job) => STAGES.map((stage) => `${job}/${stage}`));
}

// What was kept of a job before it changed is let go of at once; it is fetched anew when the hand rests.
async function begin() {
  await navigator.serviceWorker.register("/sw.js");
  const { active } = await navigator.serviceWorker.ready;
  let seen = jobNow()?.dataset.revision, timer = 0;
  const keep = () => active.postMessage({ keep: ["/", location.pathname, ...inHand()] });
  document.addEventListener("htmx:after:swap", () => {
    const { live, revision } = jobNow()?.dataset ?? {};
    if (revision === seen) return;
    seen = revision;
    if (live) active.postMessage({ job: `/jobs/${live}`, revision });
    clearTimeout(timer);
    timer = setTimeout(keep, RESTS_MS);
  });
  keep();
  document.documentElement.dataset.kept = "";
}

if (STAGES && navigator.serviceWorker) window.addEventListener("load", () => begin().catch(() => undefined));
