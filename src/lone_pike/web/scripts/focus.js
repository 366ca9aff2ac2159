// After a change of screen the focus goes to its heading and the title follows; what changed in place is announced.
import { announce, screenNow } from "./page.js";

const textsToAnnounce = () =>
  [...document.querySelectorAll("[data-announced]")].map((each) => each.innerText.replace(/\s+/g, " ").trim());
let screen = screenNow(), lastTexts = textsToAnnounce();

document.addEventListener("htmx:after:swap", () => {
  const main = document.querySelector("main");
  if (main?.dataset.title) document.title = main.dataset.title;
  if (screen !== screenNow()) {
    screen = screenNow();
    const heading = main.querySelector("#panel h2") ?? main.querySelector("h1");
    heading?.setAttribute("tabindex", "-1");
    heading?.focus({ preventScroll: true });
  }
  // Which bike it is has just been chosen: its first field comes next.
  if (document.activeElement?.closest?.("#kinds")) document.getElementById(main.dataset.first)?.focus();
  const texts = textsToAnnounce();
  announce(texts.filter((text, place) => text && text !== lastTexts[place]).join(". "));
  lastTexts = texts;
});
