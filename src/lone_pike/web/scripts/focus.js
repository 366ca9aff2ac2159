// After a change of screen the focus goes to its heading, or to the field that the press led to, and the title follows; what changed in place is announced.
import { announce, askedBy, screenNow } from "./page.js";

const textsToAnnounce = () =>
  [...document.querySelectorAll("[data-announced]")].map((each) => each.innerText.replace(/\s+/g, " ").trim());
let screen = screenNow(), lastTexts = textsToAnnounce();

// Puts a field in hand, out of a fold where it lies in one.
export function goTo(field) {
  field.closest("details")?.setAttribute("open", "");
  field.focus();
}

document.addEventListener("htmx:after:swap", (event) => {
  const main = document.querySelector("main");
  if (main?.dataset.title) document.title = main.dataset.title;
  if (screen !== screenNow()) {
    screen = screenNow();
    const field = document.getElementById(askedBy(event)?.dataset.goesTo ?? "");
    const heading = main.querySelector("#panel h2") ?? main.querySelector("h1");
    heading?.setAttribute("tabindex", "-1");
    if (field) goTo(field);
    else heading?.focus({ preventScroll: true });
  }
  // Which bike it is has just been chosen: its first field comes next.
  if (document.activeElement?.closest?.("#kinds")) document.getElementById(main.dataset.first)?.focus();
  const texts = textsToAnnounce();
  announce(texts.filter((text, place) => text && text !== lastTexts[place]).join(". "));
  lastTexts = texts;
});
