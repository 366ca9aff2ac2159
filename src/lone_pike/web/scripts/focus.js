// After a change of screen the focus goes to its heading, or to the field that the press led to, and the title follows; what changed in place is announced.
import { announce, askedBy, screenNow } from "./page.js";

const textsToAnnounce = () =>
  new Map([...document.querySelectorAll("[data-announced]")].map((each) => [each.id, each.innerText.replace(/\s+/g, " ").trim()]));
let screen = screenNow(), lastTexts = textsToAnnounce();

// Puts a field in hand, out of a fold where it lies in one.
export function goTo(field) {
  field.closest("details")?.setAttribute("open", "");
  field.focus();
}

// Another screen takes the place of this one as a whole: what only looks alike on both does not wander across the page.
document.addEventListener("htmx:before:swap", (event) => {
  for (const { fragment, swapSpec } of event.detail.tasks) {
    const coming = fragment?.querySelector?.("#job[data-screen]");
    if (coming && coming.dataset.screen !== screenNow()) Object.assign(swapSpec, { style: "outerHTML", settle: 0 });
  }
});

// What was pressed may be gone after a swap: then its panel's heading is in hand, never the page's body.
let wasInHand = false;
document.addEventListener("htmx:before:swap", () => { wasInHand = document.activeElement !== document.body; });

function toHeading() {
  const heading = document.querySelector("#panel h2") ?? document.querySelector("main h1");
  heading?.setAttribute("tabindex", "-1");
  heading?.focus({ preventScroll: true });
}

document.addEventListener("htmx:after:swap", (event) => {
  const main = document.querySelector("main");
  if (main?.dataset.title) document.title = main.dataset.title;
  const asked = document.getElementById(askedBy(event)?.dataset.goesTo ?? "");
  if (asked) goTo(asked);
  if (screen !== screenNow()) {
    screen = screenNow();
    if (!asked) toHeading();
  } else if (wasInHand && document.activeElement === document.body) toHeading();
  // Which bike it is has just been chosen: its first field comes next.
  if (document.activeElement?.closest?.("#kinds")) document.getElementById(main.dataset.first)?.focus();
  // What is computed while typing is of half a figure: it is said once the figure is whole.
  if (askedBy(event)?.dataset.previews) return;
  const texts = textsToAnnounce();
  announce([...texts].filter(([place, text]) => text && text !== lastTexts.get(place)).map(([, text]) => text).join(". "));
  lastTexts = texts;
});
