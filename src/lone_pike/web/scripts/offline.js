// On the shop's network the jobs in hand stay readable while the workshop is out of reach (static/sw.js).
const STAGES = ["size", "cut", "join"];

// The jobs that this page leads to or shows, each by the pages that are needed at the stand.
function inHand() {
  const jobs = [...document.querySelectorAll('main a[href^="/jobs/"]')].map((link) => link.getAttribute("href").match(/^\/jobs\/\d+/)?.[0]);
  return [...new Set(jobs)].filter(Boolean).flatMap((job) => STAGES.map((stage) => `${job}/${stage}`));
}

async function begin() {
  await navigator.serviceWorker.register("/sw.js");
  const { active } = await navigator.serviceWorker.ready;
  active.postMessage({ keep: ["/", ...inHand()] });
  document.documentElement.dataset.kept = "";
}

if (document.body.dataset.offline && navigator.serviceWorker) window.addEventListener("load", () => begin().catch(() => undefined));
