// The fields of Measure: Enter goes on to the next one, and how a field is measured stands in one line for all.
import { askedBy, isTyping, screenNow, withModifier } from "./page.js";

const FIELD = "[form=measures]";
const WRITTEN = "input[form=measures]:not([type=checkbox], [type=hidden]), textarea[form=measures]";

// The next field that is still empty; where none is, the next one; after the last the press to the next step.
function nextField(field) {
  const fields = [...document.querySelectorAll(FIELD)].filter((each) => each.checkVisibility());
  const after = fields.slice(fields.indexOf(field) + 1), isEmpty = (each) => each.matches(WRITTEN) && !each.value;
  const next = after.find(isEmpty) ?? (isEmpty(field) ? document.getElementById("next") : after[0]);
  if (next?.select) queueMicrotask(() => next.select());
  return next;
}

document.addEventListener("keydown", (event) => {
  const field = document.activeElement;
  if (withModifier(event) || !isTyping(field)) return;
  if (event.key === "Escape") field.blur();
  if (event.key === "Enter" && field.matches(FIELD)) {
    event.preventDefault();
    nextField(field)?.focus();
  }
});

// A new bike has its first field in hand; who came to find, the search.
const LISTENS_MS = 400;
window.addEventListener("load", () => {
  const first = document.querySelector("main[data-first]")?.dataset.first;
  const field = document.getElementById(location.hash === "#find" ? "find" : first);
  field?.focus();
  // A fast hand types before the page listens: what stands there then is looked for all the same.
  if (field?.id === "find") setTimeout(() => {
    if (field.value !== field.defaultValue) field.dispatchEvent(new Event("input", { bubbles: true }));
  }, LISTENS_MS);
});

// How a field of the side is measured stands in the same line as for those under the drawing.
for (const moves of ["focusin", "focusout"]) {
  document.addEventListener(moves, (event) => {
    const line = document.getElementById("how-line"), field = event.target;
    if (!line || !field.matches?.(`#panel ${FIELD}`)) return;
    line.dataset.rests ??= line.textContent;
    const how = document.getElementById(`${field.id}-how`)?.textContent;
    line.textContent = (moves === "focusin" && how) || line.dataset.rests;
    line.classList.toggle("font-bold", moves === "focusin" && Boolean(how));
  });
}

// A field that is no longer in hand shows what the workshop read: "431,5 mm" as 431.5.
document.addEventListener("htmx:after:swap", (event) => {
  if (event.target.id !== "job" && event.detail.ctx?.target?.id !== "job") return;
  if (askedBy(event)?.hasAttribute("data-previews")) return;
  for (const field of document.querySelectorAll("input[form=measures]:not([type=checkbox])")) {
    if (field === document.activeElement) continue;
    if (field.value !== field.defaultValue) field.value = field.defaultValue;
  }
});

// What was computed while typing comes too late once another screen is shown.
document.addEventListener("htmx:before:swap", (event) => {
  const screen = askedBy(event)?.dataset.previews;
  if (screen && screen !== screenNow()) event.preventDefault();
});
