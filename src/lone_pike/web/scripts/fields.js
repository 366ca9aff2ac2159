// The fields of Measure: Enter goes on to the next one, and how a field is measured stands in one line for all.
import { goTo } from "./focus.js";
import { askedBy, isTyping, screenNow, withModifier } from "./page.js";

const FIELD = "[form=measures]";
const WRITTEN = "input[form=measures]:not([type=checkbox], [type=hidden]), textarea[form=measures]";
const RANGE_ALONE = /^\s*\d+\s*(-|–|to)\s*\d+\s*$/;

// The next field that is still empty; where none is, the next one; after the last the press to the next step.
function nextField(field) {
  const cogCount = document.getElementById("chain.speeds");
  if (field.id === "cogs" && cogCount && !cogCount.value && RANGE_ALONE.test(field.value)) return cogCount;
  const fields = [...document.querySelectorAll(FIELD)].filter((each) => each.checkVisibility());
  const after = fields.slice(fields.indexOf(field) + 1), isEmpty = (each) => each.matches(WRITTEN) && !each.matches("[data-optional]") && !each.value;
  const next = after.find(isEmpty) ?? (isEmpty(field) ? document.getElementById("next") : after[0]);
  if (next?.select) queueMicrotask(() => next.select());
  return next;
}

document.addEventListener("keydown", (event) => {
  const field = document.activeElement;
  if (withModifier(event) || !isTyping(field)) return;
  if (event.key === "Escape") field.blur();
  // In a box of several rows Enter begins the next one; on an empty row it goes on.
  const row = field.matches("textarea") ? field.value.slice(0, field.selectionStart).split("\n").at(-1) : "";
  if (event.key === "Enter" && field.matches(FIELD) && !row.trim()) {
    event.preventDefault();
    nextField(field)?.focus();
  }
});

// "Size it" goes to the first red box while there is one, else to the first that was left empty at the start.
document.addEventListener("click", (event) => {
  if (!event.target.closest?.("button[form=measures][name=then]")) return;
  const red = document.querySelector("[data-notes]:has([data-fault])")?.dataset.notes;
  const first = document.getElementById(document.querySelector("main")?.dataset.first ?? "");
  const field = red ? document.getElementById(red) : first?.matches(WRITTEN) && !first.value ? first : null;
  if (!field) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  goTo(field);
}, true);

// What is typed into a field that has just been taken in hand replaces what stood there.
let takenInHand = null;
document.addEventListener("focusin", (event) => {
  takenInHand = event.target.matches?.(WRITTEN) && !event.target.matches("textarea") ? event.target : null;
  takenInHand?.select();
});
document.addEventListener("click", (event) => {
  if (event.target === takenInHand && takenInHand.selectionStart === takenInHand.selectionEnd) takenInHand.select();
  takenInHand = null;
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

// A field that is no longer in hand shows what the workshop read: "431,5 mm" as 431.5. One that was typed into since the
// workshop was asked keeps its text, for the answer does not know of it yet.
const READ = "input[form=measures]:not([type=checkbox])";
const sentTexts = new WeakMap();
document.addEventListener("htmx:before:request", (event) => {
  sentTexts.set(event.detail.ctx, new Map([...document.querySelectorAll(READ)].map((field) => [field.id, field.value])));
});
document.addEventListener("htmx:after:swap", (event) => {
  const { ctx } = event.detail;
  if (event.target.id !== "job" && ctx?.target?.id !== "job") return;
  if (askedBy(event)?.hasAttribute("data-previews")) return;
  for (const field of document.querySelectorAll(READ)) {
    const sent = sentTexts.get(ctx)?.get(field.id) ?? field.value;
    if (field === document.activeElement || field.value !== sent) continue;
    if (field.value !== field.defaultValue) field.value = field.defaultValue;
  }
});

// What was computed while typing comes too late once another screen is shown.
document.addEventListener("htmx:before:swap", (event) => {
  const screen = askedBy(event)?.dataset.previews;
  if (screen && screen !== screenNow()) event.preventDefault();
});
