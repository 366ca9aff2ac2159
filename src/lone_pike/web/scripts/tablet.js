// One stream of events for all pages of a tablet, since a browser opens only a few connections to one place at once.
// A page that is seen listens for all of them, and passes on what it hears. Which jobs are open is told by the locks
// that their pages hold: the browser lets go of those of a page that is gone, however it went.
const LISTENER = "lone-pike listener", AT_JOB = "lone-pike job ";
const AGAIN_MS = 30000, LET_GO_MS = 100;
// So many jobs one stream tells of. Of more nothing is heard: such a page shows what others kept once it is opened anew.
const MOST_JOBS = 20;
const between = navigator.locks ? new BroadcastChannel("lone-pike live") : undefined;

// Of this page: the job that it shows, what it does with what is told of it, and its two locks.
let mine = "", hear = () => undefined, leaveJob, stepDown;
// Of the page that listens: its stream, what that was asked for, and what it told last.
let source, asked = "", leads = false;
const newest = new Map();

// Holds a lock, or waits for it. Returns what lets it go.
function hold(name, mode, begun) {
  const waiting = new AbortController();
  let letGo;
  const kept = new Promise((done) => { letGo = done; });
  navigator.locks.request(name, { mode, signal: waiting.signal }, () => { begun(); return kept; }).catch(() => undefined);
  return () => { letGo(); waiting.abort(); };
}

async function jobsOpen() {
  const { held } = await navigator.locks.query();
  const jobs = held.map(({ name }) => name).filter((name) => name.startsWith(AT_JOB)).map((name) => name.slice(AT_JOB.length));
  return [...new Set(jobs)].sort().slice(0, MOST_JOBS);
}

function take(told) {
  if (told.job === mine) hear(told.event, told.what);
}

function pass(told) {
  between.postMessage(told);
  take(told);
}

function stop() {
  source?.close();
  source = undefined;
  asked = "";
  newest.clear();
}

async function listen() {
  if (!leads) return;
  const wanted = (await jobsOpen()).map((job) => `job=${job}`).join("&");
  if (!leads || wanted === asked) return;
  stop();
  asked = wanted;
  if (!wanted) return;
  source = new EventSource(`/live?${wanted}`);
  for (const event of ["revision", "here", "counted"]) {
    source.addEventListener(event, ({ data }) => {
      const { job, what } = JSON.parse(data);
      const told = { event, job: String(job), what };
      if (event !== "counted") newest.set(`${event} ${job}`, told);
      pass(told);
    });
  }
  // A stream that was refused is not asked for again by the browser.
  source.addEventListener("error", ({ target }) => {
    if (target.readyState === EventSource.CLOSED) setTimeout(() => { if (target === source) { stop(); listen(); } }, AGAIN_MS);
  });
}

function standBy() {
  if (document.visibilityState === "visible") stepDown ??= hold(LISTENER, "exclusive", () => { leads = true; listen(); });
}

function standDown() {
  stepDown?.();
  stepDown = undefined;
  leads = false;
  stop();
}

// Hears what is told of a job, in place of the one before; of none where it is "".
export function follow(job, hears) {
  if (!between || job === mine) return;
  leaveJob?.();
  leaveJob = undefined;
  [mine, hear] = [job, hears];
  if (job) leaveJob = hold(AT_JOB + job, "shared", () => { between.postMessage({ moved: job }); listen(); });
  else between.postMessage({ moved: job });
  standBy();
}

// The page goes, or comes again from the browser's store of pages: another one listens meanwhile.
export function leave() {
  follow("", () => undefined);
  standDown();
}

between?.addEventListener("message", ({ data }) => {
  if (!("moved" in data)) return take(data);
  if (!leads) return;
  for (const told of newest.values()) if (told.job === data.moved) between.postMessage(told);
  setTimeout(listen, LET_GO_MS);
});
document.addEventListener("visibilitychange", () => document.visibilityState === "visible" ? mine && standBy() : standDown());
