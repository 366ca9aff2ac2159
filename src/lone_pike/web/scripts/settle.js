// When the page is settled: no answer is under way, nothing that was typed waits to be sent, and presses count.
// The mark stands on the root element; it is also what a press is measured by.
import { screenNow } from "./page.js";

// A press within half a second of a change of screen was meant for the screen before: it is not taken.
const SETTLE_MS = 500;
// Typing is sent after a pause of 150 ms.
const TYPED_MS = 200;

const underWay = new Set();
let pressesFrom = 0, quietFrom = 0, timer = 0;
let screen = screenNow();

// A page that is fetched anew by itself counts as a change of screen: a press that is under way was meant for the one before.
export function holdPresses() {
  pressesFrom = performance.now() + SETTLE_MS;
  unsettle();
}

// Takes the mark away, and sets it once nothing is under way and no pause is left to wait for.
function unsettle() {
  delete document.documentElement.dataset.settled;
  clearTimeout(timer);
  if (underWay.size) return;
  const wait = Math.max(pressesFrom, quietFrom, performance.now()) - performance.now();
  timer = setTimeout(() => { document.documentElement.dataset.settled = ""; }, wait + 1);
}

document.addEventListener("click", (event) => {
  if (performance.now() >= pressesFrom || !event.target.closest?.("a, button, input[type=image], summary")) return;
  event.preventDefault();
  event.stopImmediatePropagation();
}, true);

for (const types of ["input", "change", "submit"]) {
  document.addEventListener(types, () => {
    quietFrom = performance.now() + TYPED_MS;
    unsettle();
  });
}
document.addEventListener("htmx:before:request", (event) => {
  underWay.add(event.detail.ctx);
  unsettle();
});
// The last of these is not heard where the swap took the asking element away.
for (const ends of ["htmx:after:swap", "htmx:finally:request"]) {
  document.addEventListener(ends, (event) => {
    underWay.delete(event.detail.ctx);
    unsettle();
  });
}
document.addEventListener("htmx:after:swap", () => {
  if (screen === screenNow()) return;
  screen = screenNow();
  pressesFrom = performance.now() + SETTLE_MS;
  unsettle();
});
window.addEventListener("load", unsettle);
window.addEventListener("beforeunload", () => delete document.documentElement.dataset.settled);
