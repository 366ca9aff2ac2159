// What other tablets keep at this job appears here, without taking away what is being typed.
import { announce, differs, isTyping, jobNow } from "./page.js";
import { holdPresses } from "./settle.js";
import { follow, leave } from "./tablet.js";

// A page's own write comes back with its answer: only what is still missing then is fetched.
const WAIT_MS = 400;
let at = "", newest = 0;

// The newest revision that the page stands at: a part of it may have come anew with the answer to a press of its own.
const revision = () => Math.max(...[jobNow().dataset.revision, ...[...jobNow().querySelectorAll("[name=saw]")].map((each) => each.value)].map((each) => Number(each) || 0));

const typesNow = () => {
  const field = document.activeElement;
  return isTyping(field) && differs(field);
};

// Fetches the page anew where another tablet has gone on; while something is being typed that waits.
function catchUp() {
  if (!jobNow() || newest <= revision()) return;
  if (!("settled" in document.documentElement.dataset)) { setTimeout(catchUp, WAIT_MS); return; }
  if (typesNow() || document.querySelector("dialog[open]")) return;
  holdPresses();
  htmx.ajax("GET", location.href, { target: "#" + jobNow().id, swap: "outerMorph" }).then(holdPresses, () => undefined);
}

function say(name, what) {
  const line = document.querySelector(`[data-${name}-says]`);
  if (!line) return;
  line.textContent = what ? line.dataset[`${name}Says`].replace("{what}", what) : "";
}

let here = "", counted = "";
const HEARS = {
  revision(what) {
    newest = what;
    setTimeout(catchUp, WAIT_MS);
  },
  here(what) {
    say("here", here = what);
  },
  counted(what) {
    say("counted", counted = String(what));
    announce(document.querySelector("[data-counted-says]")?.textContent);
  },
};

function listen() {
  const wanted = jobNow()?.dataset.live ?? "";
  if (wanted !== at) {
    at = wanted;
    here = counted = "";
    newest = 0;
    follow(wanted, (event, what) => HEARS[event](what));
  }
  say("here", here);
  say("counted", counted);
  setTimeout(catchUp, WAIT_MS);
}

// Begun when the page is there whole, so that it does not wait for a stream that does not end.
window.addEventListener("load", () => setTimeout(listen, 0));
window.addEventListener("pageshow", (event) => { if (event.persisted) listen(); });
window.addEventListener("pagehide", () => { leave(); at = ""; });
document.addEventListener("htmx:after:swap", listen);
document.addEventListener("focusout", () => setTimeout(catchUp, 0));
